package dev.vacancy.web;

import java.math.BigDecimal;
import java.math.BigInteger;
import tools.jackson.core.JsonGenerator;
import tools.jackson.databind.JacksonModule;
import tools.jackson.databind.SerializationContext;
import tools.jackson.databind.ValueSerializer;
import tools.jackson.databind.module.SimpleModule;

/** Writes a number that most readers would round as a text (RFC 7493, section 2.2). */
final class SafeNumbers {
    /** The whole numbers up to this one are all doubles (IEEE 754). */
    private static final BigInteger LARGEST = BigInteger.valueOf((1L << 53) - 1);

    private SafeNumbers() {}

    static JacksonModule module() {
        return new SimpleModule()
                .addSerializer(Long.class, new Writer<>())
                .addSerializer(Long.TYPE, new Writer<>())
                .addSerializer(BigInteger.class, new Writer<>())
                .addSerializer(BigDecimal.class, new Writer<>());
    }

    private static final class Writer<T extends Number> extends ValueSerializer<T> {
        @Override
        public void serialize(T value, JsonGenerator json, SerializationContext context) {
            if (isSafe(value)) {
                json.writeNumber(value.toString());
            } else {
                json.writeString(value instanceof BigDecimal decimal ? decimal.toPlainString() : value.toString());
            }
        }
    }

    private static boolean isSafe(Number value) {
        if (value instanceof BigDecimal decimal) {
            double nearest = decimal.doubleValue();
            return !Double.isInfinite(nearest) && new BigDecimal(Double.toString(nearest)).compareTo(decimal) == 0;
        }
        BigInteger whole = value instanceof BigInteger large ? large : BigInteger.valueOf(value.longValue());
        return whole.abs().compareTo(LARGEST) <= 0;
    }
}
