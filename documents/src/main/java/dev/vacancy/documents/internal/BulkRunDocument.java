package dev.vacancy.documents.internal;

import dev.vacancy.By;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.internal.chunking.BulkStore.WrittenConditions;
import dev.vacancy.internal.chunking.StoredBulkRun;
import dev.vacancy.internal.running.SettledChunk.Totals;
import dev.vacancy.internal.trail.StoredRun;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.bson.BsonBoolean;
import org.bson.BsonDateTime;
import org.bson.BsonDocument;
import org.bson.BsonInt64;
import org.bson.BsonString;
import org.bson.BsonValue;

/** A bulk run as a document. Each worker has a field of its own for what it has dealt with. */
final class BulkRunDocument {
    static final String TABLE = "table";
    static final String STATE = "state";
    static final String STARTED = "startedAt";
    static final String ENDED = "endedAt";
    static final String WORKED = "workedAt";
    static final String WORKERS = "workers";
    private static final String NAME = "name";
    private static final String SELECTION = "selection";
    private static final String ACTOR = "actor";
    private static final String REASON = "reason";
    private static final String PROGRAM = "program";
    private static final String RECORD_COUNT = "records";
    private static final String CONDITIONS = "conditions";
    private static final String RULES = "rules";

    private BulkRunDocument() {}

    static BsonDocument of(StoredBulkRun run, WrittenConditions conditions) {
        return new BsonDocument(NAME, new BsonString(run.name()))
                .append(TABLE, new BsonString(run.table()))
                .append(SELECTION, new BsonString(run.selection()))
                .append(ACTOR, new BsonString(run.by().actor()))
                .append(REASON, RunDocument.text(run.by().reason().orElse(null)))
                .append(PROGRAM, BsonBoolean.valueOf(run.by().isProgram()))
                .append(STATE, word(run.state()))
                .append(RECORD_COUNT, new BsonInt64(run.records()))
                .append(STARTED, time(run.startedAt()))
                .append(WORKED, time(run.workedAt()))
                .append(CONDITIONS, new BsonString(conditions.text()))
                .append(RULES, new BsonString(conditions.rules()))
                .append(WORKERS, new BsonDocument());
    }

    static StoredBulkRun run(BsonDocument line) {
        List<Totals> workers = line.getDocument(WORKERS).values().stream()
                .map(totals -> ChunkDocument.totals(totals.asDocument()))
                .toList();
        Totals totals = Totals.of(workers);
        String actor = RunDocument.text(line, ACTOR);
        By by = line.getBoolean(PROGRAM).getValue() ? By.program(actor) : By.user(actor);
        return new StoredBulkRun(
                ChunkDocument.id(line.get(DocumentQuery.ID)),
                RunDocument.text(line, NAME),
                RunDocument.text(line, TABLE),
                RunDocument.text(line, SELECTION),
                RunDocument.optional(line, REASON).map(by::because).orElse(by),
                state(line),
                line.getInt64(RECORD_COUNT).getValue(),
                totals.done(),
                totals.skipped(),
                totals.failed(),
                totals.deleted(),
                time(line.get(STARTED)),
                Optional.ofNullable(line.get(ENDED)).map(BulkRunDocument::time),
                time(line.get(WORKED)));
    }

    static WrittenConditions conditions(BsonDocument line) {
        return new WrittenConditions(RunDocument.text(line, CONDITIONS), RunDocument.text(line, RULES));
    }

    /** Whether it has begun, and nobody works at it any more. */
    static boolean hasEnded(BsonDocument line) {
        return line.containsKey(STATE) && state(line).isFinal();
    }

    /** The same without what it says of the records that were selected. */
    static BsonDocument erased(BsonDocument line) {
        BsonDocument left = line.clone()
                .append(SELECTION, new BsonString(StoredRun.ERASED))
                .append(CONDITIONS, new BsonString("{}"));
        // Without a name of its own it is called by what it selects.
        return RunDocument.text(line, NAME).contains(RunDocument.text(line, SELECTION))
                ? left.append(NAME, new BsonString(StoredRun.ERASED))
                : left;
    }

    static BsonValue word(BulkState state) {
        return new BsonString(state.name().toLowerCase(Locale.ROOT));
    }

    private static BulkState state(BsonDocument line) {
        return BulkState.valueOf(RunDocument.text(line, STATE).toUpperCase(Locale.ROOT));
    }

    static BsonValue time(Instant time) {
        return new BsonDateTime(time.toEpochMilli());
    }

    static Instant time(BsonValue time) {
        return Instant.ofEpochMilli(time.asDateTime().getValue());
    }
}
