package dev.vacancy.documents.internal;

import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.StoredRun;
import java.util.Optional;
import java.util.UUID;
import org.bson.BsonDocument;
import org.bson.BsonInt64;
import org.bson.BsonNull;
import org.bson.BsonString;
import org.bson.BsonValue;

/** A run of the trail as a document, whose id is its place in the chain. */
final class RunDocument {
    static final String NUMBER = "number";
    static final String RUN = "run";
    static final String KIND = "kind";
    static final String ACTOR = "actor";
    static final String AT = "at";
    static final String TABLE = "table";
    static final String PART_OF = "partOf";
    static final String ABOUT = "about";
    static final String ENTRIES = "entries";
    static final String DIGEST = "digest";
    static final String ERASED_BY = "erasedBy";
    private static final String COLLEAGUE = "colleague";
    private static final String REASON = "reason";
    private static final String SELECTION = "selection";
    private static final String RULES = "rules";
    private static final String COUNTS = "counts";
    private static final String ENTRIES_DIGEST = "entriesDigest";
    private static final String PREVIOUS = "previous";
    private static final String SELECTION_SALT = "selectionSalt";
    private static final String SELECTION_DIGEST = "selectionDigest";

    private RunDocument() {}

    /** The facts of a run, in fields. */
    static BsonDocument of(RunFacts facts) {
        return new BsonDocument(RUN, new BsonString(facts.runId().toString()))
                .append(KIND, new BsonString(facts.kind().word()))
                .append(ACTOR, new BsonString(facts.actor()))
                .append(COLLEAGUE, text(facts.colleague().orElse(null)))
                .append(REASON, text(facts.reason().orElse(null)))
                .append(AT, new BsonString(facts.at()))
                .append(TABLE, new BsonString(facts.table()))
                .append(SELECTION, new BsonString(facts.selection()))
                .append(RULES, new BsonString(facts.rules()))
                .append(COUNTS, new BsonString(RunFacts.text(facts.counts())))
                .append(PART_OF, text(facts.partOf().map(UUID::toString).orElse(null)))
                .append(ABOUT, text(facts.about().map(UUID::toString).orElse(null)));
    }

    static BsonDocument of(StoredRun run) {
        BsonDocument document = new BsonDocument(DocumentQuery.ID, new BsonInt64(run.place()))
                .append(NUMBER, new BsonInt64(run.number()));
        document.putAll(of(run.facts()));
        return document.append(ENTRIES, new BsonInt64(run.entries()))
                .append(ENTRIES_DIGEST, new BsonString(run.entriesDigest()))
                .append(PREVIOUS, new BsonString(run.previous()))
                .append(DIGEST, new BsonString(run.digest()))
                .append(SELECTION_SALT, text(run.words().salt()))
                .append(SELECTION_DIGEST, new BsonString(run.words().digest()))
                .append(ERASED_BY, whole(run.words().erasedBy()));
    }

    static BsonValue text(String text) {
        return text == null ? BsonNull.VALUE : new BsonString(text);
    }

    static BsonValue whole(Long number) {
        return number == null ? BsonNull.VALUE : new BsonInt64(number);
    }

    /**
     * Reads facts.
     *
     * @throws RuntimeException when somebody else wrote them
     */
    static RunFacts facts(BsonDocument document) {
        return new RunFacts(
                UUID.fromString(text(document, RUN)),
                RunKind.of(text(document, KIND)),
                text(document, ACTOR),
                optional(document, COLLEAGUE),
                optional(document, REASON),
                text(document, AT),
                text(document, TABLE),
                text(document, SELECTION),
                text(document, RULES),
                RunFacts.counts(text(document, COUNTS)),
                optional(document, PART_OF).map(UUID::fromString),
                optional(document, ABOUT).map(UUID::fromString));
    }

    /**
     * Reads a run.
     *
     * @throws RuntimeException when somebody else wrote it
     */
    static StoredRun run(BsonDocument document) {
        return new StoredRun(
                document.getInt64(DocumentQuery.ID).getValue(),
                document.getInt64(NUMBER).getValue(),
                facts(document),
                document.getInt64(ENTRIES).getValue(),
                text(document, ENTRIES_DIGEST),
                text(document, PREVIOUS),
                text(document, DIGEST),
                new StoredRun.Words(
                        optional(document, SELECTION_SALT).orElse(null),
                        text(document, SELECTION_DIGEST),
                        number(document, ERASED_BY)));
    }

    static String text(BsonDocument document, String field) {
        return document.getString(field).getValue();
    }

    static Optional<String> optional(BsonDocument document, String field) {
        BsonValue value = document.get(field);
        return value == null || value.isNull()
                ? Optional.empty()
                : Optional.of(value.asString().getValue());
    }

    /** A number; null where there is none. */
    static Long number(BsonDocument document, String field) {
        BsonValue value = document.get(field);
        return value == null || value.isNull() ? null : value.asInt64().getValue();
    }
}
