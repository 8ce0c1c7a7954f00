package dev.vacancy.documents.internal;

import com.mongodb.MongoException;
import com.mongodb.client.MongoDatabase;
import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.StalePlanException;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.failure.LockFailures;
import dev.vacancy.internal.follow.MessageStore;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.restoring.RecordTrail;
import dev.vacancy.internal.restoring.Restorable;
import dev.vacancy.internal.restoring.TracedEntries;
import dev.vacancy.internal.restoring.Undoing;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.Redeemed;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailStore;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.locks.LockSupport;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.LongFunction;
import org.bson.BsonDocument;
import org.bson.BsonValue;

/** The trail of a database of documents, and what is done by it. */
public final class DocumentHistory implements RecordTrail {
    /** How long a hold waits for runs that may not know of it. */
    private static final Duration LONGEST_WAIT = Duration.ofSeconds(10);

    private static final Duration PAUSE = Duration.ofMillis(20);

    private final MongoDatabase database;
    private final Optional<Transactions> transactions;
    private final Clock clock;
    private final DocumentQuery query;

    /** Looks at nothing yet. */
    DocumentHistory(MongoDatabase database, Optional<Transactions> transactions, Clock clock) {
        this.database = database;
        this.transactions = transactions;
        this.clock = clock;
        this.query = new DocumentQuery(database);
    }

    private DocumentTrail trail(Rules.Recording recording) {
        return trail(database, recording);
    }

    private static DocumentTrail trail(MongoDatabase there, Rules.Recording recording) {
        return new DocumentTrail(there, recording.trail());
    }

    private TrailWriting writing(Rules.Recording recording) {
        return new TrailWriting(trail(recording));
    }

    @Override
    public void setUp(Rules.Recording recording) {
        recording.trail().schema().ifPresent(schema -> {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "The trail of documents can't be in another schema, such as '" + schema + "'.",
                    "Leave the schema out: the trail is kept in the database of the documents.");
        });
        try {
            if (!writing(recording).isOurs()) {
                throw new InvalidRequestException(
                        FailureCode.RULES,
                        "The collections " + recording.trail().runs() + " and "
                                + recording.trail().entries() + " hold something else than a trail.",
                        "Name others for the trail.");
            }
            DocumentMessages messages = messages(recording);
            writing(recording)
                    .setUp(runs -> messages.insert(followers(recording).ofPruned(runs)));
            messages.setUp();
        } catch (MongoException failure) {
            throw new DatabaseException(
                    "make the collections of the audit trail",
                    "Give the user the right to write and to make indexes in "
                            + recording.trail().runs() + " and "
                            + recording.trail().entries() + ".",
                    failure);
        }
    }

    private DocumentMessages messages(Rules.Recording recording) {
        return new DocumentMessages(trail(recording), recording.followUps(), clock);
    }

    private Followers followers(Rules.Recording recording) {
        return Followers.of(trail(recording), recording);
    }

    @Override
    public MessageStore messages(Rules rules) {
        return messages(rules.recording().orElseThrow());
    }

    @Override
    public TrailStore store(Rules.Recording recording) {
        return trail(recording);
    }

    @Override
    public void append(Rules.Recording recording, RunFacts facts) {
        writing(recording).append(facts);
    }

    /**
     * Tells of the hold first, so that whoever begins sees it; then waits for those who had begun, and looks whether they have left what is held.
     */
    @Override
    public void hold(Rules.Recording recording, Table table, Optional<Condition> condition, LongFunction<RunFacts> of) {
        List<BsonDocument> held = new ArrayList<>();
        condition.ifPresent(which -> query.each(table, which, Set.of(), held::add));
        RunFacts facts = of.apply(held.size());
        RunEntries entries = new RunEntries(trail(recording), recording, facts.runId());
        held.forEach(document -> entries.addHeld(table, document));
        entries.flush();
        writing(recording).append(facts);
        boolean ended = awaitEnd(Intention.open(database));
        if (!ended || isAnyGone(table, held)) {
            writing(recording).append(lifting(facts));
            throw LockFailures.ofRun(table.name());
        }
    }

    private boolean awaitEnd(Set<UUID> runs) {
        long end = System.nanoTime() + LONGEST_WAIT.toNanos();
        Set<UUID> open = new HashSet<>(runs);
        while (!open.isEmpty() && System.nanoTime() < end) {
            DocumentDatabase.finish(database, clock);
            open.retainAll(Intention.open(database));
            if (!open.isEmpty()) {
                LockSupport.parkNanos(PAUSE.toNanos());
            }
        }
        return open.isEmpty();
    }

    private boolean isAnyGone(Table table, List<BsonDocument> held) {
        List<BsonValue> ids =
                held.stream().map(document -> document.get(DocumentQuery.ID)).toList();
        long there = 0;
        for (List<BsonValue> some : Portions.of(ids)) {
            there += query.collection(table).countDocuments(Filters.in(DocumentQuery.ID, some));
        }
        return there < ids.size();
    }

    private static RunFacts lifting(RunFacts hold) {
        return new RunFacts(
                RunNumber.newId(),
                RunKind.LIFT,
                hold.actor(),
                hold.colleague(),
                Optional.of("it was placed while a run was under way"),
                hold.at(),
                hold.table(),
                hold.selection(),
                hold.rules(),
                Map.of(),
                Optional.empty(),
                Optional.of(hold.runId()));
    }

    @Override
    public String keyText(Table table, Key key) {
        return KeyText.of(key);
    }

    @Override
    public List<Key> keys(Table table, List<StoredEntry> entries) {
        List<BsonValue> ids = entries.stream()
                .filter(entry -> entry.content() != null)
                .map(entry -> ContentText.read(entry.content()).get(DocumentQuery.ID))
                .toList();
        List<Key> keys = new ArrayList<>();
        query.find(table, Filters.in(DocumentQuery.ID, ids), Set.of())
                .forEach(document -> keys.add(
                        new RecordKey(table.identity(), List.of(Values.exact(document.get(DocumentQuery.ID))))));
        return keys;
    }

    @Override
    public Optional<Restorable> look(Undoing undoing) {
        return look(database, undoing, (step, change, original) -> {});
    }

    private static Optional<Restorable> look(MongoDatabase there, Undoing undoing, Restoring.Taker taker) {
        return new Restoring(new DocumentQuery(there), trail(there, undoing.recording()), undoing).look(taker);
    }

    @Override
    public void restore(
            Passage passage, Undoing undoing, RunFacts facts, Restorable expected, Optional<Redeemed> redeemed) {
        Ending.Told told = new Ending.Told(trail(undoing.recording()), facts);
        Ending ending = new Ending(facts.runId(), Optional.of(told), redeemed, Optional.empty());
        IntendedRun.Work work = new IntendedRun.Work() {
            @Override
            public void writeDown(MongoDatabase there, Consumer<Change> changes) {
                RunEntries entries =
                        new RunEntries(trail(there, undoing.recording()), undoing.recording(), facts.runId());
                Optional<Restorable> found = look(there, undoing, (step, change, original) -> {
                    changes.accept(change);
                    original.ifPresent(entry -> entries.addRestored(step, entry));
                });
                entries.flush();
                requireSame(found, expected);
            }

            @Override
            public boolean isUnchanged(MongoDatabase there) {
                return look(there, undoing, (step, change, original) -> {}).equals(Optional.of(expected));
            }
        };
        new IntendedRun(database, transactions, clock, passage.by().actor(), ending)
                .carryOut(sum(expected.counts()) + sum(expected.putBack()), work);
    }

    private static long sum(Map<String, Long> counts) {
        return counts.values().stream().mapToLong(Long::longValue).sum();
    }

    @Override
    public boolean isThere(Table table, String key) {
        return query.collection(table)
                        .find(new BsonDocument(DocumentQuery.ID, new BsonDocument("$eq", KeyText.read(key))))
                        .first()
                != null;
    }

    @Override
    public TracedEntries traces(Rules rules, Table table, String key) {
        return removal(rules).traced(table, key);
    }

    @Override
    public void erase(
            Passage passage,
            Rules rules,
            Table table,
            String key,
            TracedEntries expected,
            RunFacts facts,
            Optional<Redeemed> redeemed) {
        removal(rules).erase(table, key, expected, facts, redeemed);
    }

    @Override
    public long prune(Rules rules, Instant before, Function<List<StoredRun>, RunFacts> facts) {
        return removal(rules).prune(before, facts);
    }

    private TrailRemoval removal(Rules rules) {
        return new TrailRemoval(database, transactions, clock, rules);
    }

    private static void requireSame(Optional<Restorable> found, Restorable expected) {
        if (!found.equals(Optional.of(expected))) {
            throw new StalePlanException(List.of("what comes back has changed since it was looked at"));
        }
    }
}
