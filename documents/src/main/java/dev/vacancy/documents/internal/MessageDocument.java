package dev.vacancy.documents.internal;

import dev.vacancy.By;
import dev.vacancy.followup.FollowUpAction;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.followup.FollowUpState;
import dev.vacancy.internal.follow.Pending;
import java.time.Instant;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.bson.BsonDocument;
import org.bson.BsonInt32;
import org.bson.BsonInt64;
import org.bson.BsonString;
import org.bson.BsonValue;

/** A message as a document. */
final class MessageDocument {
    static final String FOLLOW_UP = "followUp";
    static final String PLACE = "place";
    static final String STEP = "step";
    static final String ENTRY = "entry";
    static final String KEY = "key";
    static final String RECORD = "record";
    static final String BEFORE = "before";
    static final String AFTER = "after";
    static final String STATE = "state";
    static final String ATTEMPTS = "attempts";
    static final String DUE = "dueAt";
    static final String FAILURE = "failure";
    private static final String ACTION = "action";
    private static final String TABLE = "table";
    private static final String RUN = "run";
    private static final String ACTOR = "actor";
    private static final String REASON = "reason";
    private static final String AT = "at";

    private MessageDocument() {}

    static BsonString id(UUID id) {
        return new BsonString(id.toString());
    }

    static BsonString state(FollowUpState state) {
        return new BsonString(state.toString());
    }

    static BsonDocument of(Pending message) {
        BsonDocument document = new BsonDocument(DocumentQuery.ID, id(message.id()))
                .append(FOLLOW_UP, new BsonString(message.followUp()))
                .append(PLACE, new BsonInt64(message.place()))
                .append(STEP, new BsonInt32(message.entry().step()))
                .append(ENTRY, new BsonInt64(message.entry().place()))
                .append(ACTION, new BsonString(message.action().toString()))
                .append(TABLE, new BsonString(message.entry().table()))
                .append(KEY, RunDocument.text(message.entry().key()))
                .append(RECORD, new BsonString(message.recordDigest()))
                .append(RUN, new BsonString(message.run().facts().runId().toString()))
                .append(ACTOR, new BsonString(message.run().facts().actor()))
                .append(REASON, RunDocument.text(message.run().facts().reason().orElse(null)))
                .append(AT, new BsonString(message.run().facts().at()))
                .append(STATE, state(FollowUpState.OPEN))
                .append(ATTEMPTS, new BsonInt32(0))
                .append(DUE, new BsonString(message.run().facts().at()));
        message.before().ifPresent(values -> document.append(BEFORE, written(values)));
        message.after().ifPresent(values -> document.append(AFTER, written(values)));
        return document;
    }

    /** By their paths, which no document could have for names on every server. */
    private static BsonString written(Map<String, Object> values) {
        BsonDocument document = new BsonDocument();
        values.forEach((name, value) -> document.append(name, (BsonValue) value));
        return new BsonString(ContentText.of(document));
    }

    static FollowUpMessage read(BsonDocument document) {
        return new FollowUpMessage(
                UUID.fromString(RunDocument.text(document, DocumentQuery.ID)),
                RunDocument.text(document, FOLLOW_UP),
                FollowUpAction.valueOf(RunDocument.text(document, ACTION).toUpperCase(Locale.ROOT)),
                RunDocument.text(document, TABLE),
                RunDocument.optional(document, KEY),
                values(document, BEFORE),
                values(document, AFTER),
                UUID.fromString(RunDocument.text(document, RUN)),
                By.user(RunDocument.text(document, ACTOR))
                        .because(RunDocument.optional(document, REASON).orElse(null)),
                Instant.parse(RunDocument.text(document, AT)),
                FollowUpState.valueOf(RunDocument.text(document, STATE).toUpperCase(Locale.ROOT)),
                document.getInt32(ATTEMPTS).getValue(),
                Instant.parse(RunDocument.text(document, DUE)),
                RunDocument.optional(document, FAILURE));
    }

    private static Optional<Map<String, Object>> values(BsonDocument document, String field) {
        return RunDocument.optional(document, field).map(ContentText::read).map(Values::shown);
    }
}
