package dev.vacancy.documents.internal;

import java.math.BigDecimal;
import java.nio.ByteBuffer;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.util.Date;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Function;
import org.bson.BsonDocument;
import org.bson.BsonInvalidOperationException;
import org.bson.BsonObjectId;
import org.bson.BsonType;
import org.bson.BsonValue;
import org.bson.json.JsonParseException;
import org.bson.types.Binary;
import org.bson.types.Decimal128;
import org.bson.types.ObjectId;

/**
 * Turns what a caller gives into a value of a field. A value that has a type of its own keeps it, whatever was seen there; text is read as one
 * of the types that were seen: in Extended JSON, or as text where that was seen, or in the usual form of another.
 */
final class GivenField {
    private static final String EXTENDED = "{";

    private GivenField() {}

    /** The value; empty if text is none of the types that were seen. */
    static Optional<Object> converted(SeenField seen, Object given) {
        if (given instanceof CharSequence text) {
            return read(seen, text.toString());
        }
        return Optional.of(given instanceof UUID id ? Values.exact(seen.uuid(id)) : typed(given));
    }

    private static Object typed(Object given) {
        if (given instanceof ObjectId || given instanceof Binary || given instanceof Decimal128) {
            return Values.exact(Values.bson(given));
        }
        if (given instanceof BsonValue || given instanceof Map<?, ?>) {
            return Optional.ofNullable(Values.exact(Values.bson(given))).orElse(given);
        }
        if (given instanceof Iterable<?>) {
            return new ExactValue(Values.bson(given));
        }
        if (given instanceof Date date) {
            return date.toInstant().atOffset(ZoneOffset.UTC);
        }
        if (given instanceof Instant time) {
            return time.atOffset(ZoneOffset.UTC);
        }
        if (given instanceof ZonedDateTime time) {
            return time.toOffsetDateTime();
        }
        if (given instanceof LocalDate date) {
            return date.atStartOfDay().atOffset(ZoneOffset.UTC);
        }
        if (given instanceof byte[] bytes) {
            return ByteBuffer.wrap(bytes.clone()).asReadOnlyBuffer();
        }
        return given instanceof Enum<?> constant ? constant.name() : given;
    }

    private static Optional<Object> read(SeenField seen, String text) {
        if (text.startsWith(EXTENDED)) {
            Optional<Object> extended = attempt(text, GivenField::extended)
                    .filter(value -> seen.has(Values.bson(value).getBsonType()));
            if (extended.isPresent()) {
                return extended;
            }
        }
        if (seen.has(BsonType.STRING)) {
            return Optional.of(text);
        }
        for (Reading reading : READINGS) {
            if (reading.types().stream().anyMatch(seen::has)) {
                Optional<Object> value = attempt(text, reading.reads());
                if (value.isPresent()) {
                    return value.map(found -> found instanceof UUID id ? Values.exact(seen.uuid(id)) : found);
                }
            }
        }
        boolean unknown =
                READINGS.stream().flatMap(reading -> reading.types().stream()).noneMatch(seen::has);
        return unknown ? Optional.of(text) : Optional.empty();
    }

    /** How text is read as a value of some types. */
    private record Reading(List<BsonType> types, Function<String, Object> reads) {}

    private static final List<Reading> READINGS = List.of(
            new Reading(List.of(BsonType.OBJECT_ID), text -> new ExactValue(new BsonObjectId(new ObjectId(text)))),
            new Reading(List.of(BsonType.INT32, BsonType.INT64), GivenField::whole),
            new Reading(List.of(BsonType.DECIMAL128), BigDecimal::new),
            new Reading(List.of(BsonType.DOUBLE), Double::valueOf),
            new Reading(List.of(BsonType.BOOLEAN), GivenField::truth),
            new Reading(List.of(BsonType.DATE_TIME), GivenField::time),
            new Reading(List.of(BsonType.BINARY), GivenField::binary));

    private static Optional<Object> attempt(String text, Function<String, Object> reading) {
        try {
            return Optional.of(reading.apply(text));
        } catch (IllegalArgumentException
                | DateTimeException
                | JsonParseException
                | BsonInvalidOperationException otherwise) {
            return Optional.empty();
        }
    }

    private static Object extended(String text) {
        BsonValue value = BsonDocument.parse("{\"v\": " + text + "}").get("v");
        Object exact = Values.exact(value);
        if (exact == null) {
            throw new IllegalArgumentException(text);
        }
        return exact;
    }

    private static Object whole(String text) {
        if (!text.matches("-?(0|[1-9][0-9]*)")) {
            throw new IllegalArgumentException(text);
        }
        long number = Long.parseLong(text);
        return number == (int) number ? (Object) (int) number : (Object) number;
    }

    private static Object truth(String text) {
        if (!text.equals("true") && !text.equals("false")) {
            throw new IllegalArgumentException(text);
        }
        return Boolean.valueOf(text);
    }

    /** A day stands for its beginning in UTC. */
    private static Object time(String text) {
        return text.length() == 10
                ? LocalDate.parse(text).atStartOfDay().atOffset(ZoneOffset.UTC)
                : OffsetDateTime.parse(text);
    }

    private static Object binary(String text) {
        return text.length() == 36
                ? UUID.fromString(text)
                : ByteBuffer.wrap(HexFormat.of().parseHex(text)).asReadOnlyBuffer();
    }
}
