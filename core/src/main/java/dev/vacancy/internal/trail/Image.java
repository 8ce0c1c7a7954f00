package dev.vacancy.internal.trail;

import dev.vacancy.internal.dialect.Bytes;
import dev.vacancy.internal.dialect.MalformedText;
import java.io.StringWriter;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import tools.jackson.core.JsonGenerator;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.core.ObjectReadContext;
import tools.jackson.core.ObjectWriteContext;
import tools.jackson.core.StreamReadConstraints;
import tools.jackson.core.json.JsonFactory;

/**
 * A record as a JSON object (RFC 8259): texts, numbers and lists; bytes as an object with their hexadecimal digits.
 *
 * @since 0.1
 */
public final class Image {
    private static final String BYTES = "hex";
    private static final String NUMBER = "real";
    private static final String TEXT = "text";
    private static final JsonFactory JSON = JsonFactory.builder()
            .streamReadConstraints(StreamReadConstraints.builder()
                    .maxStringLength(Integer.MAX_VALUE)
                    .maxDocumentLength(-1)
                    .build())
            .build();

    private Image() {}

    /**
     * Writes an image.
     *
     * @param values texts, numbers, lists, {@link ByteBuffer}s and nulls by name
     * @return the JSON
     */
    public static String write(Map<String, Object> values) {
        StringWriter written = new StringWriter();
        try (JsonGenerator json = JSON.createGenerator(ObjectWriteContext.empty(), written)) {
            json.writeStartObject();
            values.forEach((name, value) -> {
                json.writeName(name);
                write(json, value);
            });
            json.writeEndObject();
        }
        return written.toString();
    }

    /**
     * Writes some values alone, such as those of a key.
     *
     * @param values texts, numbers, lists, {@link ByteBuffer}s and nulls
     * @return a JSON array
     */
    public static String writeList(List<?> values) {
        StringWriter written = new StringWriter();
        try (JsonGenerator json = JSON.createGenerator(ObjectWriteContext.empty(), written)) {
            write(json, values);
        }
        return written.toString();
    }

    /**
     * Reads some values.
     *
     * @param written what {@link #writeList} wrote
     * @return the values
     */
    public static List<Object> readList(String written) {
        try (JsonParser json = JSON.createParser(ObjectReadContext.empty(), written)) {
            json.nextToken();
            return list(json);
        }
    }

    private static void write(JsonGenerator json, Object value) {
        if (value == null) {
            json.writeNull();
        } else if (value instanceof ByteBuffer buffer) {
            writeObject(json, BYTES, Bytes.hex(buffer));
        } else if (value instanceof MalformedText text) {
            writeObject(json, TEXT, Bytes.hex(text.bytes()));
        } else if (value instanceof List<?> list) {
            json.writeStartArray();
            list.forEach(element -> write(json, element));
            json.writeEndArray();
        } else if (value instanceof Integer || value instanceof Long) {
            json.writeNumber(((Number) value).longValue());
        } else if (value instanceof Double real) {
            if (real.isInfinite() || real.isNaN()) {
                writeObject(json, NUMBER, real.toString());
            } else {
                json.writeNumber(real);
            }
        } else {
            json.writeString(value.toString());
        }
    }

    private static void writeObject(JsonGenerator json, String name, String value) {
        json.writeStartObject();
        json.writeName(name);
        json.writeString(value);
        json.writeEndObject();
    }

    /**
     * Reads an image.
     *
     * @param written what {@link #write} wrote, or the database
     * @return the values by name
     */
    public static Map<String, Object> read(String written) {
        Map<String, Object> values = new LinkedHashMap<>();
        try (JsonParser json = JSON.createParser(ObjectReadContext.empty(), written)) {
            json.nextToken();
            while (json.nextToken() == JsonToken.PROPERTY_NAME) {
                String name = json.currentName();
                json.nextToken();
                values.put(name, value(json));
            }
        }
        return Collections.unmodifiableMap(values);
    }

    private static Object value(JsonParser json) {
        return switch (json.currentToken()) {
            case VALUE_NULL -> null;
            case VALUE_NUMBER_INT -> json.getLongValue();
            case VALUE_NUMBER_FLOAT -> json.getDoubleValue();
            case VALUE_TRUE -> true;
            case VALUE_FALSE -> false;
            case START_ARRAY -> list(json);
            case START_OBJECT -> special(json);
            default -> json.getString();
        };
    }

    private static List<Object> list(JsonParser json) {
        List<Object> list = new ArrayList<>();
        while (json.nextToken() != JsonToken.END_ARRAY) {
            list.add(value(json));
        }
        return Collections.unmodifiableList(list);
    }

    private static Object special(JsonParser json) {
        json.nextToken();
        String kind = json.currentName();
        json.nextToken();
        String text = json.getString();
        json.nextToken();
        return switch (kind) {
            case NUMBER -> Double.valueOf(text);
            case TEXT -> new MalformedText(Bytes.of(text));
            default -> Bytes.of(text);
        };
    }
}
