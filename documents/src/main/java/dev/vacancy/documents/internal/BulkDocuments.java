package dev.vacancy.documents.internal;

import com.mongodb.MongoException;
import com.mongodb.client.MongoCollection;
import com.mongodb.client.MongoDatabase;
import com.mongodb.client.model.Filters;
import com.mongodb.client.model.Indexes;
import com.mongodb.client.model.Projections;
import com.mongodb.client.model.Sorts;
import com.mongodb.client.model.UpdateOneModel;
import com.mongodb.client.model.Updates;
import com.mongodb.client.model.WriteModel;
import dev.vacancy.By;
import dev.vacancy.StalePlanException;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.FailedRecord;
import dev.vacancy.catalog.Key;
import dev.vacancy.internal.chunking.BulkStore;
import dev.vacancy.internal.chunking.StoredBulkRun;
import dev.vacancy.internal.failure.UnknownOutcomes;
import dev.vacancy.internal.running.Redeemed;
import dev.vacancy.internal.running.SettledChunk;
import dev.vacancy.internal.running.StoredReceipt;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.BiPredicate;
import java.util.function.Consumer;
import org.bson.BsonBoolean;
import org.bson.BsonDocument;
import org.bson.BsonInt64;
import org.bson.BsonString;
import org.bson.BsonValue;
import org.bson.conversions.Bson;

/**
 * Bulk runs in collections of ours: a document for each run, in which each worker adds up what it has dealt with, and one for each record. A record is
 * claimed by the run that is to deal with it; once that has begun, it is known by that run what becomes of it.
 *
 * @param database the database
 * @param clock tells when a record is claimed
 */
public record BulkDocuments(MongoDatabase database, Clock clock) implements BulkStore {
    private static final String RUNS = "vacancy_bulk_run";
    private static final String RECORDS = "vacancy_bulk_record";
    private static final String ID = DocumentQuery.ID;
    private static final String REASON = "reason";
    private static final String STATE = "state";
    private static final String RECEIPT = "receipt";
    private static final String WRITING = "writingAt";
    private static final String RUN = "run";
    private static final String PLACE = "place";
    private static final String KEY = "key";
    private static final String TRIED = "tried";
    private static final String CHUNK = "chunk";
    private static final String CLAIMED = "claimedAt";
    private static final String BEGUN = "begun";
    private static final String OPEN = "open";
    private static final String DONE = "done";
    private static final String FAILED = "failed";
    private static final String SKIPPED = "skipped";

    BulkDocuments(MongoDatabase database) {
        this(database, Clock.systemUTC());
    }

    private MongoCollection<BsonDocument> runs() {
        return database.getCollection(RUNS, BsonDocument.class);
    }

    private MongoCollection<BsonDocument> records() {
        return database.getCollection(RECORDS, BsonDocument.class);
    }

    /** What a process that ended has left of a run that hasn't begun is nobody's. */
    @Override
    public void prepare(UUID run) {
        records().createIndex(Indexes.ascending(RUN, STATE, TRIED, PLACE));
        records().createIndex(Indexes.ascending(CHUNK));
        BsonValue longAgo = BulkRunDocument.time(clock.instant().minus(Intention.GIVEN_UP));
        for (BsonDocument left : runs().find(Filters.lt(WRITING, longAgo))) {
            forget(ChunkDocument.id(left.get(ID)), Filters.lt(WRITING, longAgo));
        }
        runs().insertOne(new BsonDocument(ID, ChunkDocument.id(run))
                .append(WRITING, BulkRunDocument.time(clock.instant())));
    }

    private void forget(UUID run, Bson still) {
        if (runs().deleteOne(Filters.and(Filters.eq(ID, ChunkDocument.id(run)), still))
                        .getDeletedCount()
                == 1) {
            records().deleteMany(Filters.eq(RUN, ChunkDocument.id(run)));
        }
    }

    @Override
    public void add(UUID run, long first, List<Key> keys) {
        List<BsonDocument> lines = new ArrayList<>();
        long place = first;
        for (Key key : keys) {
            lines.add(new BsonDocument(ID, idOf(run, place))
                    .append(RUN, ChunkDocument.id(run))
                    .append(PLACE, new BsonInt64(place))
                    .append(KEY, Values.bson(key.values().get(0)))
                    .append(STATE, new BsonString(OPEN))
                    .append(TRIED, BsonBoolean.FALSE));
            place++;
        }
        records().insertMany(lines);
        runs().updateOne(isWriting(run), Updates.set(WRITING, BulkRunDocument.time(clock.instant())));
    }

    private static Bson isWriting(UUID run) {
        return Filters.and(Filters.eq(ID, ChunkDocument.id(run)), Filters.exists(WRITING));
    }

    @Override
    public void withdraw(UUID run) {
        forget(run, Filters.exists(WRITING));
    }

    @Override
    public void begin(StoredBulkRun run, WrittenConditions conditions, Optional<Redeemed> redeemed) {
        BsonDocument line = BulkRunDocument.of(run, conditions);
        redeemed.ifPresent(approval -> line.append(RECEIPT, RedeemedDocuments.written(approval.receipt())));
        boolean mine = redeemed.map(approval -> new RedeemedDocuments(database).begin(approval.approval(), run.runId()))
                .orElse(true);
        if (!mine) {
            throw givenUp();
        }
        try {
            Bson begun = new BsonDocument("$set", line).append("$unset", new BsonDocument(WRITING, new BsonString("")));
            if (runs().updateOne(isWriting(run.runId()), begun).getMatchedCount() == 0) {
                throw givenUp();
            }
            redeemed.ifPresent(approval -> new RedeemedDocuments(database).keep(run.runId(), approval));
        } catch (MongoException unheard) {
            throw UnknownOutcomes.cutOff(run.runId(), unheard);
        }
    }

    private static StalePlanException givenUp() {
        return new StalePlanException(List.of("nothing was heard of the run for too long, and it was given up"));
    }

    /**
     * Keeps a run from beginning that has taken an approval and isn't heard of any more. If it isn't prepared yet, it finds the approval gone as it begins.
     *
     * @return what has come of the approval; empty if the run hasn't begun, and never will
     */
    Optional<StoredReceipt> fence(UUID run) {
        forget(run, Filters.exists(WRITING));
        return receipt(run);
    }

    /** What has come of the approval that a run has redeemed as it began; empty if it hasn't begun. */
    Optional<StoredReceipt> receipt(UUID run) {
        return Optional.ofNullable(
                        runs().find(Filters.eq(ID, ChunkDocument.id(run))).first())
                .filter(line -> line.containsKey(RECEIPT))
                .map(line -> RedeemedDocuments.read(line.getDocument(RECEIPT)));
    }

    @Override
    public Optional<StoredBulkRun> run(UUID run) {
        return Optional.ofNullable(
                        runs().find(Filters.eq(ID, ChunkDocument.id(run))).first())
                .filter(line -> line.containsKey(STATE))
                .map(BulkRunDocument::run);
    }

    @Override
    public WrittenConditions conditions(UUID run) {
        BsonDocument line = runs().find(Filters.eq(ID, ChunkDocument.id(run))).first();
        return BulkRunDocument.conditions(line);
    }

    @Override
    public List<StoredBulkRun> list() {
        List<StoredBulkRun> list = new ArrayList<>();
        runs().find(Filters.exists(STATE))
                .sort(Sorts.descending(BulkRunDocument.STARTED))
                .forEach(line -> list.add(BulkRunDocument.run(line)));
        return list;
    }

    @Override
    public List<FailedRecord> failures(StoredBulkRun run, int most) {
        List<Bson> left = new ArrayList<>(List.of(Filters.in(STATE, FAILED, SKIPPED)));
        if (run.state() != BulkState.RUNNING) {
            left.add(Filters.and(Filters.eq(STATE, OPEN), Filters.eq(TRIED, true)));
        }
        List<FailedRecord> failures = new ArrayList<>();
        records()
                .find(Filters.and(Filters.eq(RUN, ChunkDocument.id(run.runId())), Filters.or(left)))
                .sort(Sorts.ascending(PLACE))
                .limit(most)
                .forEach(line -> failures.add(new FailedRecord(
                        KeyText.of(line.get(KEY)),
                        !RunDocument.text(line, STATE).equals(SKIPPED),
                        RunDocument.text(line, REASON))));
        return failures;
    }

    /** Of what others have claimed first, only what they have given up is to be had. */
    @Override
    public List<Claimed> claim(UUID run, UUID chunk, int most) {
        DocumentDatabase.finish(database, clock);
        for (boolean tried : List.of(false, true)) {
            List<Claimed> claimed = claim(run, chunk, most, tried);
            if (!claimed.isEmpty()) {
                return claimed;
            }
        }
        return List.of();
    }

    private List<Claimed> claim(UUID run, UUID chunk, int most, boolean tried) {
        BsonValue longAgo = BulkRunDocument.time(clock.instant().minus(Intention.GIVEN_UP));
        Bson free = Filters.and(
                Filters.eq(RUN, ChunkDocument.id(run)),
                Filters.eq(STATE, OPEN),
                Filters.eq(TRIED, tried),
                Filters.or(
                        Filters.exists(CHUNK, false),
                        Filters.and(Filters.lt(CLAIMED, longAgo), Filters.exists(BEGUN, false))));
        Bson claim = Updates.combine(
                Updates.set(CHUNK, ChunkDocument.id(chunk)),
                Updates.set(CLAIMED, BulkRunDocument.time(clock.instant())));
        boolean any = true;
        while (any) {
            List<BsonValue> ids = new ArrayList<>();
            records()
                    .find(free)
                    .sort(Sorts.ascending(PLACE))
                    .limit(most)
                    .projection(Projections.include(ID))
                    .forEach(line -> ids.add(line.get(ID)));
            any = !ids.isEmpty();
            boolean mine = any
                    && records()
                                    .updateMany(Filters.and(Filters.in(ID, ids), free), claim)
                                    .getModifiedCount()
                            > 0;
            if (mine) {
                return claimed(chunk);
            }
        }
        return List.of();
    }

    private List<Claimed> claimed(UUID chunk) {
        List<Claimed> claimed = new ArrayList<>();
        records()
                .find(isOf(chunk))
                .sort(Sorts.ascending(PLACE))
                .forEach(line -> claimed.add(new Claimed(
                        line.getInt64(PLACE).getValue(),
                        List.of(line.get(KEY)),
                        line.getBoolean(TRIED).getValue())));
        return claimed;
    }

    private static Bson isOf(UUID chunk) {
        return Filters.and(Filters.eq(CHUNK, ChunkDocument.id(chunk)), Filters.eq(STATE, OPEN));
    }

    private static BsonDocument idOf(UUID run, long place) {
        return new BsonDocument(RUN, ChunkDocument.id(run)).append(PLACE, new BsonInt64(place));
    }

    @Override
    public void handOver(UUID run, UUID from, UUID to, List<Long> places) {
        records()
                .updateMany(
                        Filters.and(isOf(from), Filters.in(PLACE, places)),
                        Updates.combine(
                                Updates.set(CHUNK, ChunkDocument.id(to)),
                                Updates.set(CLAIMED, BulkRunDocument.time(clock.instant()))));
    }

    @Override
    public void release(UUID run, UUID chunk) {
        records().updateMany(isOf(chunk), released());
    }

    private static Bson released() {
        return Updates.combine(Updates.unset(CHUNK), Updates.unset(CLAIMED), Updates.unset(BEGUN));
    }

    @Override
    public boolean settle(UUID chunk, By by, SettledChunk settled) {
        Ending ending = new Ending(chunk, Optional.empty(), Optional.empty(), Optional.of(settled));
        try {
            new IntendedRun(database, Optional.empty(), clock, by.actor(), ending).carryOut(0, IntendedRun.NOTHING);
            return true;
        } catch (StalePlanException others) {
            return false;
        }
    }

    /**
     * Erases what the ended ones among some bulk runs say of documents: what was selected, and their keys.
     *
     * @param bulkRuns the bulk runs
     * @param told tells whether a collection and a key, as text, are of such a document
     * @param changes takes what is to be changed for that
     */
    void erase(Collection<UUID> bulkRuns, BiPredicate<String, String> told, Consumer<Change> changes) {
        for (UUID bulkRun : bulkRuns) {
            BsonDocument line =
                    runs().find(Filters.eq(ID, ChunkDocument.id(bulkRun))).first();
            if (line == null || !BulkRunDocument.hasEnded(line)) {
                continue;
            }
            changes.accept(Change.update(RUNS, line, BulkRunDocument.erased(line)));
            String table = RunDocument.text(line, BulkRunDocument.TABLE);
            for (BsonDocument record : records().find(Filters.eq(RUN, ChunkDocument.id(bulkRun)))) {
                if (told.test(table, KeyText.of(record.get(KEY)))) {
                    changes.accept(Change.deletion(RECORDS, record));
                }
            }
        }
    }

    /** Says that a run has begun that deals with what it has claimed; returns false if somebody else has some of it by now. */
    boolean begin(UUID run, SettledChunk chunk) {
        return records().updateMany(isOf(run), Updates.set(BEGUN, true)).getMatchedCount() == chunk.claimed();
    }

    /** Says what has become of all that a run has claimed. To say it again changes nothing. */
    void settle(UUID run, SettledChunk chunk) {
        List<WriteModel<BsonDocument>> left = new ArrayList<>();
        add(run, chunk, chunk.failed(), Updates.set(STATE, FAILED), left);
        add(run, chunk, chunk.skipped(), Updates.set(STATE, SKIPPED), left);
        add(run, chunk, chunk.later(), Updates.combine(released(), Updates.set(TRIED, true)), left);
        if (!left.isEmpty()) {
            records().bulkWrite(left);
        }
        records().updateMany(isOf(run), Updates.combine(Updates.set(STATE, DONE), Updates.unset(REASON)));
        runs().updateOne(
                        Filters.eq(ID, ChunkDocument.id(chunk.bulkRun())),
                        Updates.combine(
                                Updates.set(
                                        BulkRunDocument.WORKERS + "." + chunk.worker(),
                                        ChunkDocument.written(chunk.totals())),
                                Updates.set(BulkRunDocument.WORKED, BulkRunDocument.time(clock.instant()))));
    }

    private static void add(
            UUID run, SettledChunk chunk, Map<Long, String> reasons, Bson state, List<WriteModel<BsonDocument>> left) {
        reasons.forEach((place, reason) -> left.add(new UpdateOneModel<>(
                Filters.and(Filters.eq(ID, idOf(chunk.bulkRun(), place)), isOf(run)),
                Updates.combine(state, Updates.set(REASON, reason)))));
    }

    @Override
    public boolean isOpen(UUID run) {
        return records()
                        .find(Filters.and(Filters.eq(RUN, ChunkDocument.id(run)), Filters.eq(STATE, OPEN)))
                        .projection(Projections.include(ID))
                        .first()
                != null;
    }

    @Override
    public boolean move(UUID run, List<BulkState> from, BulkState to, Instant at) {
        List<Bson> changes = new ArrayList<>(List.of(
                Updates.set(STATE, BulkRunDocument.word(to)),
                Updates.set(BulkRunDocument.WORKED, BulkRunDocument.time(at))));
        changes.add(
                to.isFinal()
                        ? Updates.set(BulkRunDocument.ENDED, BulkRunDocument.time(at))
                        : Updates.unset(BulkRunDocument.ENDED));
        return runs().updateOne(
                                Filters.and(
                                        Filters.eq(ID, ChunkDocument.id(run)),
                                        Filters.in(
                                                STATE,
                                                from.stream()
                                                        .map(BulkRunDocument::word)
                                                        .toList())),
                                Updates.combine(changes))
                        .getMatchedCount()
                == 1;
    }

    @Override
    public void touch(UUID run, Instant at) {
        runs().updateOne(
                        Filters.eq(ID, ChunkDocument.id(run)),
                        Updates.set(BulkRunDocument.WORKED, BulkRunDocument.time(at)));
    }
}
