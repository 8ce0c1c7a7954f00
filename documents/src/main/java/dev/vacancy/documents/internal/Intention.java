package dev.vacancy.documents.internal;

import com.mongodb.MongoBulkWriteException;
import com.mongodb.MongoException;
import com.mongodb.MongoWriteException;
import com.mongodb.client.MongoCollection;
import com.mongodb.client.MongoDatabase;
import com.mongodb.client.model.Filters;
import com.mongodb.client.model.InsertManyOptions;
import com.mongodb.client.model.Projections;
import com.mongodb.client.model.Updates;
import dev.vacancy.VacancyException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
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
 * What a run means to do, written down whole before anything is changed. Without a transaction no server takes a run back by itself; so whoever
 * comes after a crash, from any process, goes on from what is written down, or takes back what was done.
 *
 * <p>A run is <em>writing</em> as long as its changes are not all written down; <em>claiming</em> as it marks each document as its own, so that no other run
 * changes it; <em>changing</em> once it has marked all; and <em>undoing</em> if a document was changed in spite of its mark. It is gone when it is done.
 * A run that a transaction holds goes from writing to <em>committed</em>, and has but to be told then.
 */
final class Intention {
    static final String RUNS = "vacancy_intention";

    /** A run of which nothing was heard for so long is given up by its process. */
    static final Duration GIVEN_UP = Duration.ofMinutes(1);

    private static final String STATE = "state";
    private static final String TOUCHED = "touchedAt";
    private static final String OWNER = "owner";
    private static final String PAGES = "pages";
    private static final String DONE = "done";
    private static final String WRITING = "writing";
    private static final String CLAIMING = "claiming";
    private static final String CHANGING = "changing";
    private static final String UNDOING = "undoing";
    private static final String COMMITTED = "committed";

    private final MongoDatabase database;
    private final Clock clock;
    private final BsonValue run;
    private final BsonValue owner;
    private final IntendedChanges changes;
    private final Ending ending;
    private Optional<String> refusal = Optional.empty();

    private Intention(MongoDatabase database, Clock clock, long pages, Ending ending) {
        this.owner = new BsonBinary(UUID.randomUUID(), UuidRepresentation.STANDARD);
        this.database = database;
        this.clock = clock;
        this.run = new BsonBinary(ending.run(), UuidRepresentation.STANDARD);
        this.changes = new IntendedChanges(database, ending.run(), pages);
        this.ending = ending;
    }

    /**
     * Writes down that a run begins.
     *
     * @param ending what is kept of it, once it is done
     */
    static Intention begin(MongoDatabase database, Clock clock, String actor, Ending ending) {
        Intention intention = new Intention(database, clock, 0, ending);
        BsonDocument line = new BsonDocument(DocumentQuery.ID, intention.run)
                .append("actor", new BsonString(actor))
                .append(OWNER, intention.owner)
                .append(STATE, new BsonString(WRITING))
                .append(PAGES, new BsonInt64(0))
                .append(DONE, new BsonInt64(0))
                .append(TOUCHED, intention.now());
        ending.writeTo(line);
        intention.runs().insertOne(line);
        return intention;
    }

    /** The runs that their processes have given up, each claimed by whoever asks first. */
    static List<Intention> givenUp(MongoDatabase database, Clock clock) {
        List<Intention> givenUp = new ArrayList<>();
        BsonDateTime longAgo = new BsonDateTime(clock.instant().minus(GIVEN_UP).toEpochMilli());
        for (BsonDocument found :
                database.getCollection(RUNS, BsonDocument.class).find(Filters.lt(TOUCHED, longAgo))) {
            UUID run = found.getBinary(DocumentQuery.ID).asUuid(UuidRepresentation.STANDARD);
            Intention intention =
                    new Intention(database, clock, found.getInt64(PAGES).getValue(), Ending.read(database, run, found));
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
        return runs(database);
    }

    private static MongoCollection<BsonDocument> runs(MongoDatabase database) {
        return database.getCollection(RUNS, BsonDocument.class);
    }

    /** Writes a change down; it is made once all are. */
    void add(Change change) {
        if (!change.isEmpty() && changes.add(change)) {
            touch(WRITING, 0);
        }
    }

    /** Says that this process is at work, unless another one has taken the run over. */
    private void touch(String state, long done) {
        touch(database, state, done);
    }

    /**
     * Says in a transaction that the run is done, which is true once that is committed. This comes first in it: nobody takes the run over then, and
     * whoever says that it is heard of waits.
     */
    void commit(MongoDatabase inTransaction) {
        touch(inTransaction, COMMITTED, 0);
    }

    private void touch(MongoDatabase there, String state, long done) {
        Bson line = Updates.combine(
                Updates.set(STATE, state),
                Updates.set(PAGES, changes.pages()),
                Updates.set(DONE, done),
                Updates.set(TOUCHED, now()));
        if (runs(there).updateOne(mine(), line).getMatchedCount() == 0) {
            throw new MongoException("another process has taken this run over, as nothing was heard of it");
        }
    }

    /** Says that this process is at work, and nothing else. */
    void beat() {
        runs().updateOne(mine(), Updates.set(TOUCHED, now()));
    }

    private Bson mine() {
        return Filters.and(Filters.eq(DocumentQuery.ID, run), Filters.eq(OWNER, owner));
    }

    /** Forgets a run of which nothing was done, or is done any more. */
    void withdraw() {
        ending.withdraw(database);
        forget();
    }

    /** Tells of a run that is done, and forgets what was written down to do it. */
    void end() {
        ending.done(database);
        forget();
    }

    private void forget() {
        changes.forget();
        runs().deleteOne(Filters.eq(DocumentQuery.ID, run));
    }

    /**
     * Makes the changes, all or nothing.
     *
     * @param unchanged tells, once all documents are marked, whether the plan would still be the same
     * @return whether they were made; false if a document was another than it was, or another run's, and all is as before
     */
    boolean carryOut(BooleanSupplier unchanged) {
        changes.flush();
        touch(CLAIMING, 0);
        if (!claim()) {
            return false;
        }
        if (!isSame(unchanged)) {
            release();
            withdraw();
            return false;
        }
        touch(CHANGING, 0);
        return change(0);
    }

    private boolean isSame(BooleanSupplier unchanged) {
        try {
            return unchanged.getAsBoolean();
        } catch (VacancyException refused) {
            release();
            withdraw();
            throw refused;
        }
    }

    /** Goes on with a run that was given up: to its end, or back. */
    void finish() {
        BsonDocument line = runs().find(Filters.eq(DocumentQuery.ID, run)).first();
        if (line == null) {
            return;
        }
        long done = line.getInt64(DONE).getValue();
        switch (line.getString(STATE).getValue()) {
            case CHANGING -> change(done);
            case UNDOING -> undo(done);
            case COMMITTED -> end();
            default -> {
                release();
                withdraw();
            }
        }
    }

    /** Marks each document, so that no other run changes it. Whether it is as it was is asked as it is changed. */
    private boolean claim() {
        for (long page = 1; page <= changes.pages(); page++) {
            for (List<Change> alike : there(page)) {
                if (!isClaimed(alike)) {
                    release();
                    withdraw();
                    return false;
                }
            }
            touch(CLAIMING, page);
        }
        return true;
    }

    private boolean isClaimed(List<Change> alike) {
        Bson free = Filters.and(ids(alike), Filters.exists(Change.CLAIM, false));
        try {
            return collection(alike)
                            .updateMany(free, Updates.set(Change.CLAIM, run))
                            .getMatchedCount()
                    == alike.size();
        } catch (MongoWriteException refused) {
            refusal = Optional.of(refused.getError().getMessage());
            return false;
        }
    }

    /** Gives all documents up that are still marked. */
    private void release() {
        for (long page = 1; page <= changes.pages(); page++) {
            for (List<Change> alike : Change.alike(changes.page(page))) {
                collection(alike).updateMany(claimed(alike), Updates.unset(Change.CLAIM));
            }
        }
    }

    /** The changes of a page to documents that are there. */
    private List<List<Change>> there(long page) {
        return Change.alike(changes.page(page)).stream()
                .filter(alike -> alike.get(0).kind() != Change.Kind.INSERTION)
                .toList();
    }

    private static Bson ids(List<Change> alike) {
        return Filters.in(DocumentQuery.ID, alike.stream().map(Change::id).toList());
    }

    private Bson claimed(List<Change> alike) {
        return Filters.and(ids(alike), Filters.eq(Change.CLAIM, run));
    }

    /** What is still marked afterwards was changed by somebody who heeds no mark. */
    private boolean change(long done) {
        for (long page = done + 1; page <= changes.pages(); page++) {
            boolean made = true;
            for (List<Change> alike : Change.alike(changes.page(page))) {
                made &= make(alike);
            }
            if (!made) {
                touch(UNDOING, page);
                undo(page);
                return false;
            }
            touch(CHANGING, page);
        }
        // Whoever has taken the run over may have taken it back, and nothing of it would be found here any more.
        touch(CHANGING, changes.pages());
        if (ending.isInserting()) {
            release();
        }
        end();
        return true;
    }

    /** Makes some changes; returns whether all of them are made by now, also those that a process before this one has made. */
    private boolean make(List<Change> alike) {
        boolean inserting = alike.get(0).kind() == Change.Kind.INSERTION;
        try {
            return Change.make(database, alike, change -> change.made(run)) == alike.size()
                    || collection(alike).countDocuments(claimed(alike)) == 0;
        } catch (MongoBulkWriteException refused) {
            refusal = Change.refusal(refused);
            if (refusal.isEmpty()) {
                throw refused;
            }
            // What is there already and bears the mark was put there by a process before this one.
            return inserting && collection(alike).countDocuments(claimed(alike)) == alike.size();
        }
    }

    /** What the server said of a change that it didn't take, as by a unique index or a validator. */
    Optional<String> refusal() {
        return refusal;
    }

    private MongoCollection<BsonDocument> collection(List<Change> alike) {
        return database.getCollection(alike.get(0).collection(), BsonDocument.class);
    }

    /** Takes back what was done, the last change first, and gives up the rest. What somebody has changed again since stays as it is. */
    private void undo(long from) {
        for (long page = from; page > 0; page--) {
            List<List<Change>> alike = new ArrayList<>(Change.alike(changes.page(page)));
            Collections.reverse(alike);
            alike.forEach(this::takeBack);
            touch(UNDOING, page - 1);
        }
        release();
        withdraw();
    }

    /** No other run could take a document away that was this one's, so what is missing went here. */
    private void takeBack(List<Change> alike) {
        if (alike.get(0).kind() == Change.Kind.INSERTION) {
            collection(alike).deleteMany(claimed(alike));
            return;
        }
        if (alike.get(0).kind() == Change.Kind.UPDATE) {
            Change.make(database, alike, Change::takenBack);
            return;
        }
        Set<BsonValue> there = new HashSet<>();
        collection(alike)
                .find(ids(alike))
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

    /** The ids of the runs that are written down, whatever their state. */
    static Set<UUID> open(MongoDatabase database) {
        Set<UUID> open = new HashSet<>();
        database.getCollection(RUNS, BsonDocument.class)
                .find(Filters.type(STATE, BsonType.STRING))
                .projection(Projections.include(DocumentQuery.ID))
                .forEach(line -> open.add(line.getBinary(DocumentQuery.ID).asUuid(UuidRepresentation.STANDARD)));
        return open;
    }
}
