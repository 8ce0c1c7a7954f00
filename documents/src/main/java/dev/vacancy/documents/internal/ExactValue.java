package dev.vacancy.documents.internal;

import dev.vacancy.internal.catalog.TypedText;
import org.bson.BsonBinary;
import org.bson.BsonDocument;
import org.bson.BsonValue;
import org.bson.UuidRepresentation;
import org.bson.json.JsonMode;
import org.bson.json.JsonWriterSettings;

/**
 * A value of a type that Java has no own word for, or that a value of another type looks like.
 *
 * @param value the value as the database has it
 */
record ExactValue(BsonValue value) implements Comparable<ExactValue>, TypedText {
    private static final JsonWriterSettings CANONICAL =
            JsonWriterSettings.builder().outputMode(JsonMode.EXTENDED).build();
    private static final JsonWriterSettings RELAXED =
            JsonWriterSettings.builder().outputMode(JsonMode.RELAXED).build();
    private static final String FRAME = "{\"v\": ";

    @Override
    public String typed() {
        return json(value, CANONICAL);
    }

    private static String json(BsonValue value, JsonWriterSettings settings) {
        if (value instanceof BsonDocument document) {
            return document.toJson(settings);
        }
        String framed = new BsonDocument("v", value).toJson(settings);
        return framed.substring(FRAME.length(), framed.length() - 1);
    }

    @Override
    public int compareTo(ExactValue other) {
        return typed().compareTo(other.typed());
    }

    /** For people: an id by its digits, a date as in ISO 8601; else Extended JSON. */
    @Override
    public String toString() {
        return switch (value.getBsonType()) {
            case OBJECT_ID -> value.asObjectId().getValue().toHexString();
            case DATE_TIME, BOOLEAN, DECIMAL128 -> String.valueOf(Values.shown(value));
            case BINARY -> uuid(value.asBinary());
            default -> json(value, RELAXED);
        };
    }

    private static String uuid(BsonBinary binary) {
        return Values.isUuid(binary)
                ? binary.asUuid(UuidRepresentation.STANDARD).toString()
                : json(binary, RELAXED);
    }
}
