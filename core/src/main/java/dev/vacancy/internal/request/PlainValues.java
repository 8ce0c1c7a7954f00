package dev.vacancy.internal.request;

import java.nio.ByteBuffer;
import java.util.Collections;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Values of records as JSON has them (RFC 8259). */
public final class PlainValues {
    private PlainValues() {}

    /**
     * Returns each value as a text, number, truth value, list, object or null: dates and times as in ISO 8601, bytes as hexadecimal digits.
     *
     * @param values the values by column; some may be null
     * @return the same in their order, not to be changed
     */
    public static Map<String, Object> of(Map<String, Object> values) {
        Map<String, Object> plain = new LinkedHashMap<>();
        values.forEach((name, value) -> plain.put(name, of(value)));
        return Collections.unmodifiableMap(plain);
    }

    private static Object of(Object value) {
        if (value == null || value instanceof Number || value instanceof Boolean) {
            return value;
        }
        if (value instanceof ByteBuffer bytes) {
            byte[] copy = new byte[bytes.remaining()];
            bytes.duplicate().get(copy);
            return HexFormat.of().formatHex(copy);
        }
        if (value instanceof Map<?, ?> fields) {
            Map<String, Object> object = new LinkedHashMap<>();
            fields.forEach((name, field) -> object.put(String.valueOf(name), of(field)));
            return Collections.unmodifiableMap(object);
        }
        return value instanceof List<?> list
                ? list.stream().map(PlainValues::of).toList()
                : value.toString();
    }
}
