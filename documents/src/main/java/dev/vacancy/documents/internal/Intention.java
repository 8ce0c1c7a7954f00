package dev.vacancy.documents.internal;

import com.mongodb.MongoException;
import com.mongodb.bulk.BulkWriteResult;
import com.mongodb.client.MongoCollection;
import com.mongodb.client.MongoCursor;
import com.mongodb.client.MongoDatabase;
import com.mongodb.client.model.BulkWriteOptions;
import com.mongodb.client.model.Filters;
import com.mongodb.client.model.InsertManyOptions;
import com.mongodb.client.model.Projections;
import com.mongodb.client.model.Sorts;
import com.mongodb.client.model.Updates;
import com.mongodb.client.model.WriteModel;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.UUID;
import java.util.function.BooleanSupplier;
import org.bson.BsonBinary;
import org.bson.BsonDateTime;
import org.bson.BsonDocument;
import org.bson.BsonInt64;
import org.bson.BsonString;
import org.bson.BsonType;
import org.bson.BsonValue;
import org.bson.UuidRepresentation;
import org.bson.conversions.Bson;

/**
 * What a run means to do, written down whole before anything is changed. A server without transactions can't take a run back by itself; so whoever
 * comes after a crash, from any process, goes on from what is written down, or takes back what was done.
 *
 * <p>A run is <em>writing</em> as long as its changes are not all written down; <em>claiming</em> as it marks each document as its own, so that no other run
 * changes it; <em>changing</em> once it has marked all; and <em>undoing</em> if a document was changed in spite of its mark. It is gone when it is done.
 */
final class Intention {
    static final String RUNS = "vacancy_intention";
    static final String CHANGES = "vacancy_intended_change";

    /** A run of which nothing was heard for so long is given up by its process. */
    static final Duration GIVEN_UP = Duration.ofMinutes(1);

    private static final int PORTION = 500;
    private static final String STATE = "state";
    private static final String TOUCHED = "touchedAt";
    private static final String OWNER = "owner";
    private static final String WRITING = "writing";
    private static final String CLAIMING = "claiming";
    private static final String CHANGING = "changing";
    private static final String UNDOING = "undoing";

    private final MongoDatabase database;
    private final Clock clock;
    private final BsonValue run;
    private final BsonValue owner;
    private final List<BsonDocument> unwritten = new ArrayList<>();
    private long written;

    private Intention(MongoDatabase database, Clock clock, BsonValue run) {
        this.owner = new BsonBinary(UUID.randomUUID(), UuidRepresentation.STANDARD);
        this.database = database;
        this.clock = clock;
        this.run = run;
    }

    /** Writes down that a run begins. */
    static Intention begin(MongoDatabase database, Clock clock, UUID run, String actor) {
        Intention intention = new Intention(database, clock, new BsonBinary(run, UuidRepresentation.STANDARD));
        intention
                .runs()
                .insertOne(new BsonDocument(DocumentQuery.ID, intention.run)
                        .append("actor", new BsonString(actor))
                        .append(OWNER, intention.owner)
                        .append(STATE, new BsonString(WRITING))
                        .append("done", new BsonInt64(0))
                        .append(TOUCHED, intention.now()));
        return intention;
    }

    /** The runs that their processes have given up, each claimed by whoever asks first. */
    static List<Intention> givenUp(MongoDatabase database, Clock clock) {
        List<Intention> givenUp = new ArrayList<>();
        BsonDateTime longAgo = new BsonDateTime(clock.instant().minus(GIVEN_UP).toEpochMilli());
        for (BsonDocument found :
                database.getCollection(RUNS, BsonDocument.class).find(Filters.lt(TOUCHED, longAgo))) {
            Intention intention = new Intention(database, clock, found.get(DocumentQuery.ID));
            Bson unclaimed =
                    Filters.and(Filters.eq(DocumentQuery.ID, intention.run), Filters.eq(OWNER, found.get(OWNER)));
            Bson claim = Updates.combine(Updates.set(OWNER, intention.owner), Updates.set(TOUCHED, intention.now()));
            if (intention.runs().updateOne(unclaimed, claim).getModifiedCount() == 1) {
                givenUp.add(intention);
            }
        }
        return givenUp;
    }

    private BsonDateTime now() {
        return new BsonDateTime(Instant.now(clock).toEpochMilli());
    }

    private MongoCollection<BsonDocument> runs() {
        return database.getCollection(RUNS, BsonDocument.class);
    }

    private MongoCollection<BsonDocument> changes() {
        return database.getCollection(CHANGES, BsonDocument.class);
    }

    /** What a change is found by, in the order of the numbers. */
    private String key(long number) {
        return String.format(Locale.ROOT, "%s/%019d", run.asBinary().asUuid(UuidRepresentation.STANDARD), number);
    }

    /** Writes a change down; it is made once all are. */
    void add(Change change) {
        if (change.isEmpty()) {
            return;
        }
        unwritten.add(change.written(key(++written)));
        if (unwritten.size() == PORTION) {
            flush();
        }
    }

    private void flush() {
        if (!unwritten.isEmpty()) {
            changes().insertMany(unwritten, new InsertManyOptions().ordered(false));
            unwritten.clear();
            touch(WRITING, 0);
        }
    }

    /** Says that this process is at work, unless another one has taken the run over. */
    private void touch(String state, long done) {
        Bson mine = Filters.and(Filters.eq(DocumentQuery.ID, run), Filters.eq(OWNER, owner));
        Bson line = Updates.combine(Updates.set(STATE, state), Updates.set("done", done), Updates.set(TOUCHED, now()));
        if (runs().updateOne(mine, line).getMatchedCount() == 0) {
            throw new MongoException("another process has taken this run over, as nothing was heard of it");
        }
    }

    /** Forgets what was written down, before anything was changed or once all is done. */
    void forget() {
        changes()
                .deleteMany(Filters.and(
                        Filters.gt(DocumentQuery.ID, key(0)), Filters.lte(DocumentQuery.ID, key(Long.MAX_VALUE))));
        runs().deleteOne(Filters.eq(DocumentQuery.ID, run));
    }

    /**
     * Makes the changes, all or nothing.
     *
     * @param unchanged tells, once all documents are marked, whether the plan would still be the same
     * @return whether they were made; false if a document was another than it was, or another run's, and all is as before
     */
    boolean carryOut(BooleanSupplier unchanged) {
        flush();
        touch(CLAIMING, 0);
        if (!claim()) {
            return false;
        }
        if (!unchanged.getAsBoolean()) {
            release();
            return false;
        }
        touch(CHANGING, 0);
        return change(0);
    }

    /** Goes on with a run that was given up: to its end, or back. */
    void finish() {
        BsonDocument line = runs().find(Filters.eq(DocumentQuery.ID, run)).first();
        if (line == null) {
            return;
        }
        long done = line.getInt64("done").getValue();
        switch (line.getString(STATE).getValue()) {
            case CHANGING -> change(done);
            case UNDOING -> undo(done);
            default -> release();
        }
    }

    /** Marks each document, so that no other run changes it. */
    private boolean claim() {
        long number = 0;
        for (List<Change> portion = portion(number, true); !portion.isEmpty(); portion = portion(number, true)) {
            for (List<Change> alike : Change.alike(portion)) {
                List<WriteModel<BsonDocument>> claims =
                        alike.stream().map(change -> change.claimed(run)).toList();
                if (write(alike, claims).getMatchedCount() < alike.size()) {
                    release();
                    return false;
                }
            }
            number += portion.size();
            touch(CLAIMING, number);
        }
        return true;
    }

    /** Gives all documents up that are still as they were, and forgets the run. */
    private void release() {
        long number = 0;
        for (List<Change> portion = portion(number, true); !portion.isEmpty(); portion = portion(number, true)) {
            for (List<Change> alike : Change.alike(portion)) {
                collection(alike).updateMany(claimed(alike), Updates.unset(Change.CLAIM));
            }
            number += portion.size();
        }
        forget();
    }

    private Bson claimed(List<Change> alike) {
        return Filters.and(
                Filters.in(DocumentQuery.ID, alike.stream().map(Change::id).toList()), Filters.eq(Change.CLAIM, run));
    }

    /** What is still marked afterwards was changed by somebody who heeds no mark. */
    private boolean change(long from) {
        long done = from;
        for (List<Change> portion = portion(done, true); !portion.isEmpty(); portion = portion(done, true)) {
            boolean made = true;
            for (List<Change> alike : Change.alike(portion)) {
                write(alike, alike.stream().map(change -> change.made(run)).toList());
                made &= collection(alike).countDocuments(claimed(alike)) == 0;
            }
            done += portion.size();
            if (!made) {
                touch(UNDOING, done);
                undo(done);
                return false;
            }
            touch(CHANGING, done);
        }
        // Whoever has taken the run over may have taken it back, and nothing of it would be found here any more.
        touch(CHANGING, done);
        forget();
        return true;
    }

    private BulkWriteResult write(List<Change> alike, List<WriteModel<BsonDocument>> models) {
        return collection(alike).bulkWrite(models, new BulkWriteOptions().ordered(false));
    }

    /** The next changes behind a number, or those up to it, the last one first. */
    private List<Change> portion(long number, boolean forwards) {
        Bson where = forwards
                ? Filters.and(
                        Filters.gt(DocumentQuery.ID, key(number)), Filters.lte(DocumentQuery.ID, key(Long.MAX_VALUE)))
                : Filters.and(Filters.gt(DocumentQuery.ID, key(0)), Filters.lte(DocumentQuery.ID, key(number)));
        List<Change> portion = new ArrayList<>();
        try (MongoCursor<BsonDocument> cursor = changes()
                .find(where)
                .sort(forwards ? Sorts.ascending(DocumentQuery.ID) : Sorts.descending(DocumentQuery.ID))
                .limit(PORTION)
                .cursor()) {
            cursor.forEachRemaining(document -> portion.add(Change.read(document)));
        }
        return portion;
    }

    private MongoCollection<BsonDocument> collection(List<Change> alike) {
        return database.getCollection(alike.get(0).collection(), BsonDocument.class);
    }

    /** Takes back what was done, the last change first, and gives up the rest. What somebody has changed again since stays as it is. */
    private void undo(long from) {
        long left = from;
        for (List<Change> portion = portion(left, false); !portion.isEmpty(); portion = portion(left, false)) {
            Change.alike(portion).forEach(this::takeBack);
            left -= portion.size();
            touch(UNDOING, left);
        }
        release();
    }

    /** No other run could take a document away that was this one's, so what is missing went here. */
    private void takeBack(List<Change> alike) {
        if (!alike.get(0).isDeletion()) {
            write(alike, alike.stream().map(Change::takenBack).toList());
            return;
        }
        Set<BsonValue> there = new HashSet<>();
        collection(alike)
                .find(Filters.in(
                        DocumentQuery.ID, alike.stream().map(Change::id).toList()))
                .projection(Projections.include(DocumentQuery.ID))
                .forEach(document -> there.add(document.get(DocumentQuery.ID)));
        List<BsonDocument> missing = alike.stream()
                .filter(change -> !there.contains(change.id()))
                .map(Change::before)
                .toList();
        if (!missing.isEmpty()) {
            collection(alike).insertMany(missing, new InsertManyOptions().ordered(false));
        }
    }

    /** How many runs are written down, whatever their state. */
    static long count(MongoDatabase database) {
        return database.getCollection(RUNS, BsonDocument.class).countDocuments(Filters.type(STATE, BsonType.STRING));
    }
}
