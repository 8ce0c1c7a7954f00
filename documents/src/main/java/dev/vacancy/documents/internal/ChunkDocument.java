package dev.vacancy.documents.internal;

import dev.vacancy.internal.running.SettledChunk;
import dev.vacancy.internal.running.SettledChunk.Totals;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;
import org.bson.BsonArray;
import org.bson.BsonBinary;
import org.bson.BsonDocument;
import org.bson.BsonInt32;
import org.bson.BsonInt64;
import org.bson.BsonString;
import org.bson.BsonValue;
import org.bson.UuidRepresentation;

/** What becomes of the records of a bulk run that one of its runs has claimed, as a document. */
final class ChunkDocument {
    private static final String BULK_RUN = "bulkRun";
    private static final String CLAIMED = "claimed";
    private static final String WORKER = "worker";
    private static final String TOTALS = "totals";
    private static final String PLACE = "place";
    private static final String REASON = "reason";
    private static final String DONE = "done";
    private static final String SKIPPED = "skipped";
    private static final String FAILED = "failed";
    private static final String LATER = "later";
    private static final String DELETED = "deleted";

    private ChunkDocument() {}

    static BsonDocument written(SettledChunk chunk) {
        return new BsonDocument(BULK_RUN, id(chunk.bulkRun()))
                .append(CLAIMED, new BsonInt32(chunk.claimed()))
                .append(FAILED, reasons(chunk.failed()))
                .append(SKIPPED, reasons(chunk.skipped()))
                .append(LATER, reasons(chunk.later()))
                .append(WORKER, id(chunk.worker()))
                .append(TOTALS, written(chunk.totals()));
    }

    static SettledChunk read(BsonDocument written) {
        return new SettledChunk(
                id(written.get(BULK_RUN)),
                written.getInt32(CLAIMED).getValue(),
                reasons(written.getArray(FAILED)),
                reasons(written.getArray(SKIPPED)),
                reasons(written.getArray(LATER)),
                id(written.get(WORKER)),
                totals(written.getDocument(TOTALS)));
    }

    static BsonDocument written(Totals totals) {
        return new BsonDocument(DONE, new BsonInt64(totals.done()))
                .append(SKIPPED, new BsonInt64(totals.skipped()))
                .append(FAILED, new BsonInt64(totals.failed()))
                .append(DELETED, new BsonInt64(totals.deleted()));
    }

    static Totals totals(BsonDocument written) {
        return new Totals(
                written.getInt64(DONE).getValue(),
                written.getInt64(SKIPPED).getValue(),
                written.getInt64(FAILED).getValue(),
                written.getInt64(DELETED).getValue());
    }

    private static BsonArray reasons(Map<Long, String> reasons) {
        BsonArray written = new BsonArray();
        new TreeMap<>(reasons)
                .forEach((place, reason) -> written.add(
                        new BsonDocument(PLACE, new BsonInt64(place)).append(REASON, new BsonString(reason))));
        return written;
    }

    private static Map<Long, String> reasons(BsonArray written) {
        Map<Long, String> reasons = new TreeMap<>();
        written.forEach(each -> reasons.put(
                each.asDocument().getInt64(PLACE).getValue(),
                each.asDocument().getString(REASON).getValue()));
        return reasons;
    }

    static BsonValue id(UUID id) {
        return new BsonBinary(id, UuidRepresentation.STANDARD);
    }

    static UUID id(BsonValue id) {
        return id.asBinary().asUuid(UuidRepresentation.STANDARD);
    }
}
