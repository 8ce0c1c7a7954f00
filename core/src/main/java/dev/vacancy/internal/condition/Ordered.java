package dev.vacancy.internal.condition;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.stream.Stream;

/** The order of values of one column, numbers of whatever width among them. */
final class Ordered {
    private Ordered() {}

    @SuppressWarnings("unchecked") // a class that is comparable is comparable to itself
    static int compare(Object one, Object other) {
        if (one instanceof Double || one instanceof Float || other instanceof Double || other instanceof Float) {
            return one instanceof Number first && other instanceof Number second
                    ? Double.compare(first.doubleValue(), second.doubleValue())
                    : one.toString().compareTo(other.toString());
        }
        if (one instanceof Number && other instanceof Number) {
            return new BigDecimal(one.toString()).compareTo(new BigDecimal(other.toString()));
        }
        return one instanceof Comparable<?> comparable && one.getClass() == other.getClass()
                ? ((Comparable<Object>) comparable).compareTo(other)
                : one.toString().compareTo(other.toString());
    }

    /** A value in the form in which equal ones are equal objects. */
    static Object plain(Object value) {
        return value instanceof Number && !(value instanceof Double) && !(value instanceof Float)
                ? new BigDecimal(value.toString()).stripTrailingZeros()
                : value;
    }

    /** A whole number, the one before it and the one behind it. */
    static Stream<BigInteger> neighbours(Object number) {
        BigInteger whole = new BigInteger(number.toString());
        return Stream.of(whole.subtract(BigInteger.ONE), whole, whole.add(BigInteger.ONE));
    }
}
