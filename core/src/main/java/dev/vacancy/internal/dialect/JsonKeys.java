package dev.vacancy.internal.dialect;

import java.io.StringWriter;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.util.List;
import java.util.function.UnaryOperator;
import tools.jackson.core.JsonGenerator;
import tools.jackson.core.ObjectWriteContext;
import tools.jackson.core.json.JsonFactory;

/** Writes a set of keys as one JSON text (RFC 8259), for databases that take a set best that way. */
final class JsonKeys {
    private static final JsonFactory JSON = new JsonFactory();

    private JsonKeys() {}

    /**
     * Writes the keys as an array: of values if each key has one, else of arrays.
     *
     * @param asStored turns a value into what the database stores for it
     */
    static String of(KeySet keys, UnaryOperator<Object> asStored) {
        StringWriter text = new StringWriter();
        try (JsonGenerator json = JSON.createGenerator(ObjectWriteContext.empty(), text)) {
            json.writeStartArray();
            for (List<?> tuple : keys.tuples()) {
                write(tuple, asStored, json);
            }
            json.writeEndArray();
        }
        return text.toString();
    }

    /** Writes a text as a string of JSON. */
    static String text(String value) {
        StringWriter text = new StringWriter();
        try (JsonGenerator json = JSON.createGenerator(ObjectWriteContext.empty(), text)) {
            json.writeString(value);
        }
        return text.toString();
    }

    private static void write(List<?> tuple, UnaryOperator<Object> asStored, JsonGenerator json) {
        boolean single = tuple.size() == 1;
        if (!single) {
            json.writeStartArray();
        }
        tuple.forEach(value -> write(asStored.apply(value), json));
        if (!single) {
            json.writeEndArray();
        }
    }

    private static void write(Object value, JsonGenerator json) {
        if (value instanceof BigDecimal number) {
            json.writeNumber(number);
        } else if (value instanceof Double || value instanceof Float) {
            json.writeNumber(((Number) value).doubleValue());
        } else if (value instanceof BigInteger number) {
            json.writeNumber(number);
        } else if (value instanceof Number number) {
            json.writeNumber(number.longValue());
        } else if (value instanceof Boolean truth) {
            json.writeNumber(truth ? 1 : 0);
        } else if (value instanceof ByteBuffer bytes) {
            json.writeString(Bytes.hex(bytes));
        } else if (value instanceof List<?> list) {
            json.writeStartArray();
            list.forEach(element -> write(element, json));
            json.writeEndArray();
        } else {
            json.writeString(value.toString());
        }
    }

    /** Whether some values of one column are bytes, which JSON doesn't know. */
    static boolean hasBytes(KeySet keys, int column) {
        return keys.tuples().stream().anyMatch(tuple -> tuple.get(column) instanceof ByteBuffer);
    }
}
