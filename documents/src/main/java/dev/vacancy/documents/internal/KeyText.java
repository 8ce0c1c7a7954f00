package dev.vacancy.documents.internal;

import dev.vacancy.catalog.Key;
import java.math.BigDecimal;
import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import org.bson.BsonBinary;
import org.bson.BsonBoolean;
import org.bson.BsonDateTime;
import org.bson.BsonDecimal128;
import org.bson.BsonDocument;
import org.bson.BsonObjectId;
import org.bson.BsonString;
import org.bson.BsonValue;
import org.bson.UuidRepresentation;
import org.bson.json.JsonMode;
import org.bson.json.JsonWriterSettings;
import org.bson.types.Decimal128;
import org.bson.types.ObjectId;

/**
 * The text of an id, by which the trail knows a document. Text that looks like something else stands between quotation marks, so that two ids have
 * the same text only if a server takes them for the same.
 */
final class KeyText {
    private static final Pattern PLAIN = Pattern.compile("[\\p{L}_][^\\p{Cntrl}]*");
    private static final Pattern OBJECT_ID = Pattern.compile("[0-9a-fA-F]{24}");
    private static final Pattern UUID = Pattern.compile("[0-9a-fA-F]{8}(-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}");
    private static final Pattern NUMBER = Pattern.compile("-?\\d+(\\.\\d+)?");
    private static final Pattern TIME = Pattern.compile("[-+]?\\d{4,}-\\d{2}-\\d{2}T.*Z");
    private static final Pattern WHOLE = Pattern.compile("-?\\d+");
    private static final Set<String> WORDS = Set.of("true", "false", "null");
    private static final JsonWriterSettings CANONICAL =
            JsonWriterSettings.builder().outputMode(JsonMode.EXTENDED).build();

    private KeyText() {}

    /** Whether an id stands for a document and says nothing of it: a number, an object id or a UUID. */
    static boolean isSurrogate(String key) {
        return WHOLE.matcher(key).matches()
                || OBJECT_ID.matcher(key).matches()
                || UUID.matcher(key).matches();
    }

    /** The text of a key, which is an id. */
    static String of(Key key) {
        return of(Values.bson(key.values().get(0)));
    }

    /** The text of an id. */
    static String of(BsonValue id) {
        return switch (id.getBsonType()) {
            case STRING -> text(id.asString().getValue());
            case OBJECT_ID -> id.asObjectId().getValue().toHexString();
            case BOOLEAN -> String.valueOf(id.asBoolean().getValue());
            case DATE_TIME -> Instant.ofEpochMilli(id.asDateTime().getValue()).toString();
            case BINARY ->
                Values.isUuid(id.asBinary())
                        ? id.asBinary().asUuid(UuidRepresentation.STANDARD).toString()
                        : json(id);
            default -> number(id).orElseGet(() -> json(id));
        };
    }

    /** The id that a text stands for. */
    static BsonValue read(String text) {
        if (OBJECT_ID.matcher(text).matches()) {
            return new BsonObjectId(new ObjectId(text));
        }
        if (UUID.matcher(text).matches()) {
            return new BsonBinary(java.util.UUID.fromString(text), UuidRepresentation.STANDARD);
        }
        if (text.equals("true") || text.equals("false")) {
            return BsonBoolean.valueOf(text.equals("true"));
        }
        if (PLAIN.matcher(text).matches()) {
            return new BsonString(text);
        }
        if (NUMBER.matcher(text).matches()) {
            return new BsonDecimal128(new Decimal128(new BigDecimal(text)));
        }
        if (TIME.matcher(text).matches()) {
            return new BsonDateTime(Instant.parse(text).toEpochMilli());
        }
        return BsonDocument.parse("{\"v\": " + text + "}").get("v");
    }

    private static Optional<String> number(BsonValue id) {
        return Values.comparable(id) instanceof BigDecimal number
                ? Optional.of(number.toPlainString())
                : Optional.empty();
    }

    private static String text(String text) {
        boolean plain = PLAIN.matcher(text).matches()
                && !OBJECT_ID.matcher(text).matches()
                && !UUID.matcher(text).matches()
                && !WORDS.contains(text);
        return plain ? text : json(new BsonString(text));
    }

    private static String json(BsonValue value) {
        String whole = new BsonDocument("v", value).toJson(CANONICAL);
        return whole.substring(whole.indexOf(':') + 1, whole.length() - 1).strip();
    }
}
