package dev.vacancy.documents.internal;

import dev.vacancy.catalog.Key;
import java.math.BigDecimal;
import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import org.bson.BsonDocument;
import org.bson.BsonString;
import org.bson.BsonValue;
import org.bson.UuidRepresentation;
import org.bson.json.JsonMode;
import org.bson.json.JsonWriterSettings;

/**
 * The text of an id, by which the trail knows a document. Text that looks like something else stands between quotation marks, so that two ids have
 * the same text only if a server takes them for the same.
 */
final class KeyText {
    private static final Pattern PLAIN = Pattern.compile("[\\p{L}_][^\\p{Cntrl}]*");
    private static final Pattern OBJECT_ID = Pattern.compile("[0-9a-fA-F]{24}");
    private static final Pattern UUID = Pattern.compile("[0-9a-fA-F]{8}(-[0-9a-fA-F]{4}){3}-[0-9a-fA-F]{12}");
    private static final Set<String> WORDS = Set.of("true", "false", "null");
    private static final JsonWriterSettings CANONICAL =
            JsonWriterSettings.builder().outputMode(JsonMode.EXTENDED).build();

    private KeyText() {}

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
