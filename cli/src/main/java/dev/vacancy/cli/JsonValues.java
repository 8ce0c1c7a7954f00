package dev.vacancy.cli;

import java.math.BigDecimal;
import java.nio.ByteBuffer;
import java.util.Base64;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;

/** Values of records in JSON (RFC 8259): dates and times as in ISO 8601, binary in base64 (RFC 4648). */
final class JsonValues {
    private JsonValues() {}

    static String write(Map<String, Object> object) {
        return JsonMapper.builder()
                .enable(SerializationFeature.INDENT_OUTPUT)
                .build()
                .writeValueAsString(object);
    }

    static Map<String, Object> of(Map<String, Object> values) {
        Map<String, Object> converted = new LinkedHashMap<>();
        values.forEach((name, value) -> converted.put(name, of(value)));
        return converted;
    }

    static String text(Object value) {
        return value instanceof BigDecimal decimal ? decimal.toPlainString() : String.valueOf(of(value));
    }

    private static Object of(Object value) {
        if (value == null || value instanceof Number || value instanceof Boolean) {
            return value;
        }
        if (value instanceof ByteBuffer buffer) {
            byte[] bytes = new byte[buffer.remaining()];
            buffer.duplicate().get(bytes);
            return Base64.getEncoder().encodeToString(bytes);
        }
        if (value instanceof List<?> list) {
            return list.stream().map(JsonValues::of).toList();
        }
        return value.toString();
    }
}
