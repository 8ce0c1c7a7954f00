package dev.vacancy.documents.internal;

import com.mongodb.client.MongoDatabase;
import dev.vacancy.internal.running.Redeemed;
import dev.vacancy.internal.running.SettledChunk;
import dev.vacancy.internal.running.StoredReceipt;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.rule.Trail;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.bson.BsonArray;
import org.bson.BsonDocument;
import org.bson.BsonString;

/**
 * What is kept of a run once it is done: its line in the trail, and what came of the approval that it redeems. It is written down with what the run means
 * to do, so that whoever finishes a run ends it alike.
 *
 * @param run the id of the run
 * @param told how it is told in the trail; empty if there is none
 * @param redeemed the approval that it redeems; empty if it redeems none
 * @param chunk the records of a bulk run that it deals with; empty if it is part of none
 */
record Ending(UUID run, Optional<Told> told, Optional<Redeemed> redeemed, Optional<SettledChunk> chunk) {
    private static final String FACTS = "facts";
    private static final String TRAIL = "trail";
    private static final String APPROVAL = "approval";
    private static final String RECEIPT = "receipt";
    private static final String CHUNK = "chunk";

    /** How a run is written down, and where. */
    record Told(DocumentTrail trail, RunFacts facts) {}

    /** Adds it to what is written down of a run. */
    void writeTo(BsonDocument line) {
        told.ifPresent(how -> line.append(FACTS, RunDocument.of(how.facts()))
                .append(
                        TRAIL,
                        new BsonArray(List.of(
                                new BsonString(how.trail().trail().runs()),
                                new BsonString(how.trail().trail().entries())))));
        redeemed.ifPresent(approval -> line.append(APPROVAL, new BsonString(approval.approval()))
                .append(RECEIPT, RedeemedDocuments.written(approval.receipt())));
        chunk.ifPresent(settled -> line.append(CHUNK, ChunkDocument.written(settled)));
    }

    /** Reads what was written down. */
    static Ending read(MongoDatabase database, UUID run, BsonDocument line) {
        Optional<SettledChunk> chunk =
                Optional.ofNullable(line.get(CHUNK)).map(written -> ChunkDocument.read(written.asDocument()));
        return new Ending(run, told(database, line), redeemed(line), chunk);
    }

    private static Optional<Told> told(MongoDatabase database, BsonDocument line) {
        if (!line.containsKey(FACTS)) {
            return Optional.empty();
        }
        BsonArray names = line.getArray(TRAIL);
        Trail trail = Trail.defaults()
                .named(
                        names.get(0).asString().getValue(),
                        names.get(1).asString().getValue());
        return Optional.of(new Told(new DocumentTrail(database, trail), RunDocument.facts(line.getDocument(FACTS))));
    }

    private static Optional<Redeemed> redeemed(BsonDocument line) {
        if (!line.containsKey(APPROVAL)) {
            return Optional.empty();
        }
        StoredReceipt receipt = RedeemedDocuments.read(line.getDocument(RECEIPT));
        return Optional.of(new Redeemed(line.getString(APPROVAL).getValue(), receipt));
    }

    /** Whether the run puts documents where there were none, which bear its mark until it is done: those that come back, or messages. */
    boolean isInserting() {
        return told.map(how -> how.facts().kind())
                .filter(kind -> kind.restores() || kind == RunKind.ERASURE)
                .isPresent();
    }

    /**
     * Says that the run has begun: from here on it is known by the run what becomes of its approval and of the records that it has claimed.
     *
     * @return false if somebody else has them by now
     */
    boolean begin(MongoDatabase database) {
        boolean approved = redeemed.isEmpty()
                || new RedeemedDocuments(database).begin(redeemed.get().approval(), run);
        return approved && (chunk.isEmpty() || new BulkDocuments(database).begin(run, chunk.get()));
    }

    /** Keeps what was done. To do so again changes nothing. */
    void done(MongoDatabase database) {
        told.ifPresent(how -> new TrailWriting(how.trail()).append(how.facts()));
        redeemed.ifPresent(approval -> new RedeemedDocuments(database).keep(run, approval));
        chunk.ifPresent(settled -> new BulkDocuments(database).settle(run, settled));
    }

    /** Forgets it: the run never was. */
    void withdraw(MongoDatabase database) {
        told.ifPresent(how -> new TrailWriting(how.trail()).withdraw(run));
        redeemed.ifPresent(approval -> new RedeemedDocuments(database).giveBack(approval.approval(), run));
        chunk.ifPresent(settled -> new BulkDocuments(database).release(settled.bulkRun(), run));
    }
}
