package dev.vacancy.internal.catalog;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.sql.Types;
import java.time.OffsetDateTime;
import java.time.temporal.ChronoField;
import java.time.temporal.Temporal;
import java.util.Locale;

/** What a column of some type can hold, and which of its values are the same. */
final class HeldValues {
    private HeldValues() {}

    /**
     * Tells whether a column can hold exactly this value. A cast to the column's type would round or cut another one to its
     * neighbour.
     */
    static boolean holds(ColumnType type, Object value) {
        if (value instanceof BigDecimal number && !type.isFloating()) {
            BigDecimal shortest = number.stripTrailingZeros();
            boolean limited = type.size() > 0
                    && type.jdbcType() != Types.FLOAT
                    && !type.name().equalsIgnoreCase("DECFLOAT");
            return !limited
                    || (shortest.scale() <= type.scale()
                            && shortest.precision() - shortest.scale() <= type.size() - type.scale());
        }
        if (value instanceof Double && type.jdbcType() == Types.REAL) {
            return false;
        }
        if (value instanceof String text && type.isText()) {
            String held = type.isPadded() ? text.stripTrailing() : text;
            return type.size() == 0 || held.codePointCount(0, held.length()) <= type.size();
        }
        if (value instanceof ByteBuffer bytes) {
            return type.size() == 0 || bytes.remaining() <= type.size();
        }
        return fractionDigits(value) <= type.scale();
    }

    /** How many digits behind the second a time needs; 0 of whatever else. */
    static int fractionDigits(Object value) {
        boolean timed = value instanceof Temporal time && time.isSupported(ChronoField.NANO_OF_SECOND);
        int nanos = timed ? ((Temporal) value).get(ChronoField.NANO_OF_SECOND) : 0;
        return nanos == 0
                ? 0
                : Math.max(0, BigDecimal.valueOf(nanos, 9).stripTrailingZeros().scale());
    }

    /** The form in which two spellings of one value are equal, as far as Java knows them for the same. */
    static Object comparable(ColumnType type, Object value) {
        if (value instanceof BigDecimal decimal) {
            return plain(decimal);
        }
        if (value instanceof Long || value instanceof Integer || value instanceof Short || value instanceof Byte) {
            return new BigDecimal(((Number) value).longValue());
        }
        if (value instanceof BigInteger number) {
            return new BigDecimal(number);
        }
        if (value instanceof Float || value instanceof Double) {
            double number = ((Number) value).doubleValue();
            // Some databases tell the two zeros apart, so Java doesn't decide that they are one.
            boolean negativeZero = Double.doubleToRawLongBits(number) == Double.doubleToRawLongBits(-0.0);
            return Double.isFinite(number) && !negativeZero ? plain(new BigDecimal(value.toString())) : value;
        }
        if (value instanceof OffsetDateTime time) {
            return time.toInstant();
        }
        if (value instanceof String text) {
            String unpadded = type.isPadded() ? text.stripTrailing() : text;
            return ignoresCase(type) ? unpadded.toLowerCase(Locale.ROOT) : unpadded;
        }
        return value;
    }

    private static BigDecimal plain(BigDecimal number) {
        BigDecimal shortest = number.stripTrailingZeros();
        return shortest.scale() < 0 ? shortest.setScale(0) : shortest;
    }

    /** Whether two values of this type are the same exactly if Java says so; else only the database knows. */
    static boolean isComparedInJava(ColumnType type) {
        return type.isInteger()
                || type.isText()
                || type.isBinary()
                || type.jdbcType() == Types.DECIMAL
                || type.jdbcType() == Types.NUMERIC;
    }

    private static boolean ignoresCase(ColumnType type) {
        String name = type.name().toLowerCase(Locale.ROOT);
        return name.contains("ignorecase") || name.equals("citext");
    }
}
