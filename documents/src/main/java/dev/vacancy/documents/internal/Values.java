package dev.vacancy.documents.internal;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.time.Instant;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.UUID;
import org.bson.BsonArray;
import org.bson.BsonBinary;
import org.bson.BsonBinarySubType;
import org.bson.BsonBoolean;
import org.bson.BsonDateTime;
import org.bson.BsonDecimal128;
import org.bson.BsonDocument;
import org.bson.BsonDouble;
import org.bson.BsonInt32;
import org.bson.BsonInt64;
import org.bson.BsonNull;
import org.bson.BsonObjectId;
import org.bson.BsonString;
import org.bson.BsonType;
import org.bson.BsonValue;
import org.bson.UuidRepresentation;
import org.bson.types.Binary;
import org.bson.types.Decimal128;
import org.bson.types.ObjectId;

/** Values of documents, in Java and back. What is taken from a document becomes the very same value when it is sent back. */
final class Values {
    private Values() {}

    /** The form in which the planner holds a value; null for a missing one. */
    static Object exact(BsonValue value) {
        if (value == null) {
            return null;
        }
        return switch (value.getBsonType()) {
            case NULL, UNDEFINED -> null;
            case STRING -> value.asString().getValue();
            case INT32 -> value.asInt32().getValue();
            case INT64 -> value.asInt64().getValue();
            case DOUBLE ->
                isPlain(value.asDouble().getValue()) ? value.asDouble().getValue() : new ExactValue(value);
            case BINARY ->
                value.asBinary().getType() == BsonBinarySubType.BINARY.getValue()
                        ? ByteBuffer.wrap(value.asBinary().getData()).asReadOnlyBuffer()
                        : new ExactValue(value);
            default -> new ExactValue(value);
        };
    }

    private static boolean isPlain(double number) {
        return Double.isFinite(number) && Double.doubleToRawLongBits(number) != Double.doubleToRawLongBits(-0.0);
    }

    /** The value as a document has it. */
    static BsonValue bson(Object value) {
        if (value == null) {
            return BsonNull.VALUE;
        }
        if (value instanceof ExactValue exact) {
            return exact.value();
        }
        if (value instanceof BsonValue given) {
            return given;
        }
        if (value instanceof Number number) {
            return number(number);
        }
        if (value instanceof Boolean truth) {
            return BsonBoolean.valueOf(truth);
        }
        if (value instanceof OffsetDateTime time) {
            return new BsonDateTime(time.toInstant().toEpochMilli());
        }
        if (value instanceof LocalDate date) {
            return new BsonDateTime(
                    date.atStartOfDay(ZoneOffset.UTC).toInstant().toEpochMilli());
        }
        if (value instanceof UUID id) {
            return new BsonBinary(id, UuidRepresentation.STANDARD);
        }
        if (value instanceof ByteBuffer bytes) {
            byte[] copy = new byte[bytes.remaining()];
            bytes.duplicate().get(copy);
            return new BsonBinary(copy);
        }
        if (value instanceof Binary binary) {
            return new BsonBinary(binary.getType(), binary.getData());
        }
        if (value instanceof ObjectId id) {
            return new BsonObjectId(id);
        }
        if (value instanceof Map<?, ?> fields) {
            BsonDocument document = new BsonDocument();
            fields.forEach((name, field) -> document.append(String.valueOf(name), bson(field)));
            return document;
        }
        if (value instanceof Iterable<?> elements) {
            BsonArray array = new BsonArray();
            elements.forEach(element -> array.add(bson(element)));
            return array;
        }
        return new BsonString(value.toString());
    }

    private static BsonValue number(Number number) {
        if (number instanceof Long whole) {
            return new BsonInt64(whole);
        }
        if (number instanceof Double || number instanceof Float) {
            return new BsonDouble(number.doubleValue());
        }
        if (number instanceof Decimal128 decimal) {
            return new BsonDecimal128(decimal);
        }
        if (number instanceof BigDecimal || number instanceof BigInteger) {
            return new BsonDecimal128(new Decimal128(new BigDecimal(number.toString())));
        }
        return new BsonInt32(number.intValue());
    }

    /** The form in which people and JSON see a value. */
    static Object shown(BsonValue value) {
        if (value == null) {
            return null;
        }
        return switch (value.getBsonType()) {
            case BOOLEAN -> value.asBoolean().getValue();
            case DATE_TIME ->
                Instant.ofEpochMilli(value.asDateTime().getValue()).atOffset(ZoneOffset.UTC);
            case DECIMAL128 -> decimal(value.asDecimal128().getValue());
            case BINARY ->
                isUuid(value.asBinary())
                        ? value.asBinary().asUuid(UuidRepresentation.STANDARD)
                        : ByteBuffer.wrap(value.asBinary().getData()).asReadOnlyBuffer();
            case ARRAY -> {
                ShownArray elements = new ShownArray(new ExactValue(value));
                value.asArray().forEach(element -> elements.add(shown(element)));
                yield elements;
            }
            case DOCUMENT -> {
                ShownDocument fields = new ShownDocument(new ExactValue(value));
                fields.putAll(shown(value.asDocument()));
                yield fields;
            }
            case OBJECT_ID -> value.asObjectId().getValue().toHexString();
            default -> {
                Object exact = exact(value);
                yield exact instanceof ExactValue other ? other.toString() : exact;
            }
        };
    }

    /** All fields of a document, as people and JSON see them. */
    static Map<String, Object> shown(BsonDocument document) {
        Map<String, Object> fields = new LinkedHashMap<>();
        document.forEach((name, field) -> fields.put(name, shown(field)));
        return fields;
    }

    private static Object decimal(Decimal128 number) {
        boolean special = number.isNaN() || number.isInfinite();
        boolean negativeZero =
                !special && number.isNegative() && number.toString().matches("-0(\\.0*)?(E.*)?");
        return special || negativeZero ? number.toString() : number.bigDecimalValue();
    }

    /** Whether bytes are a UUID in the order of RFC 9562. */
    static boolean isUuid(BsonBinary binary) {
        return binary.getType() == BsonBinarySubType.UUID_STANDARD.getValue() && binary.getData().length == 16;
    }

    /** A form in which two values are equal that the database takes for the same: numbers by their value. */
    static Object comparable(BsonValue value) {
        BsonType type = value.getBsonType();
        boolean special =
                type == BsonType.DOUBLE && !Double.isFinite(value.asDouble().getValue());
        if (!value.isNumber() || special) {
            return value;
        }
        Object number = type == BsonType.DECIMAL128
                ? decimal(value.asDecimal128().getValue())
                : type == BsonType.DOUBLE
                        ? new BigDecimal(value.asDouble().getValue())
                        : value.asNumber().longValue();
        if (number instanceof String) {
            return value;
        }
        return new BigDecimal(number.toString()).stripTrailingZeros();
    }
}
