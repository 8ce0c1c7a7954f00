package dev.vacancy.documents.internal;

import com.mongodb.MongoException;
import com.mongodb.client.MongoClient;
import com.mongodb.client.MongoDatabase;
import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.StalePlanException;
import dev.vacancy.catalog.Link;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.AssignedValues;
import dev.vacancy.internal.running.Conclusion;
import dev.vacancy.internal.running.RecordDatabase;
import dev.vacancy.internal.running.Recorded;
import dev.vacancy.internal.running.RedeemedApprovals;
import dev.vacancy.internal.running.Redeeming;
import dev.vacancy.internal.running.StepAction;
import dev.vacancy.internal.running.TakenApproval;
import dev.vacancy.internal.store.Store;
import dev.vacancy.internal.store.StoreTraits;
import dev.vacancy.rule.RuleBook;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.bson.BsonDocument;
import org.bson.BsonInt32;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A database of documents. Where no transaction holds a run, it writes down what it means to do, and does it only as far as documents are as
 * planned.
 */
public final class DocumentDatabase implements RecordDatabase {
    private static final Logger LOG = LoggerFactory.getLogger(DocumentDatabase.class);

    private final MongoDatabase database;
    private final Optional<Transactions> transactions;
    private final Clock clock;
    private final String identity;
    private final DatabaseCatalog catalog;

    private DocumentDatabase(
            MongoDatabase database,
            Optional<Transactions> transactions,
            Clock clock,
            String identity,
            DatabaseCatalog catalog) {
        this.database = database;
        this.transactions = transactions;
        this.clock = clock;
        this.identity = identity;
        this.catalog = catalog;
    }

    /** Looks at a database, and finishes the runs that were cut off in it. */
    public static DocumentDatabase of(MongoClient client, String name, RuleBook rules, Clock clock) {
        try {
            MongoDatabase database = client.getDatabase(name);
            finish(database, clock);
            String identity = identity(client, name);
            return new DocumentDatabase(
                    database,
                    Transactions.of(client),
                    clock,
                    identity,
                    DocumentCatalog.of(database, rules).catalog());
        } catch (MongoException failure) {
            throw new DatabaseException(
                    "read the collections of " + name, "Check the address and the user's rights.", failure);
        }
    }

    /** Goes on with the runs that their processes have given up, or takes them back. */
    public static int finish(MongoDatabase database, Clock clock) {
        List<Intention> givenUp = Intention.givenUp(database, clock);
        givenUp.forEach(intention -> {
            LOG.warn("Finishing a run in {} that was cut off", database.getName());
            try {
                intention.finish();
            } catch (MongoException refused) {
                // What it takes to go on or back stays written down; to look at documents needs none of it.
                LOG.error("A run in {} that was cut off couldn't be finished", database.getName(), refused);
            }
        });
        return givenUp.size();
    }

    /** The servers by their addresses, as the cluster knows them, and the name of the database. */
    private static String identity(MongoClient client, String name) {
        // A first answer is waited for, so that the servers are known.
        client.getDatabase(name).runCommand(new BsonDocument("ping", new BsonInt32(1)));
        return client.getClusterDescription().getServerDescriptions().stream()
                        .map(server -> server.getAddress().toString())
                        .sorted()
                        .collect(Collectors.joining(","))
                + "/" + name;
    }

    @Override
    public String name() {
        return database.getName();
    }

    @Override
    public DatabaseCatalog catalog() {
        return catalog;
    }

    @Override
    public void require(Rules rules) {
        for (Link link : rules.catalog().links()) {
            if (link.childColumns().size() > 1) {
                throw new InvalidRequestException(
                        FailureCode.RULES,
                        "The link " + link.where()
                                + " has several fields, which documents can't be found by from their parents.",
                        "Link by one field, such as an id that holds them.");
            }
        }
    }

    @Override
    public StoreTraits traits() {
        return DocumentRecords.traits(mostPerTransaction());
    }

    private long mostPerTransaction() {
        return transactions.isPresent() ? Transactions.MOST : 0;
    }

    /** {@return its trail, and what is done by it} */
    public DocumentHistory history() {
        return new DocumentHistory(database, transactions, clock);
    }

    @Override
    public Store open() {
        return open(database);
    }

    private DocumentStore open(MongoDatabase there) {
        return new DocumentStore(new DocumentQuery(there), identity, mostPerTransaction());
    }

    @Override
    public <T> T reading(Supplier<T> work) {
        try {
            return work.get();
        } catch (MongoException failure) {
            throw new DatabaseException("read documents", "Nothing was changed.", failure);
        }
    }

    @Override
    public Map<String, Long> carryOut(
            Conclusion conclusion,
            Passage passage,
            Planned planned,
            AssignedValues assigned,
            Predicate<Store> unchanged) {
        passage.require(planned.plan());
        Optional<Recorded> recorded = conclusion.recorded();
        Optional<Ending.Told> told = recorded.map(how ->
                new Ending.Told(new DocumentTrail(database, how.recording().trail()), how.facts()));
        Ending ending = new Ending(conclusion.run(), told, conclusion.redeemed(), conclusion.chunk());
        IntendedRun.Work work = new IntendedRun.Work() {
            @Override
            public void writeDown(MongoDatabase there, Consumer<Change> changes) {
                Optional<RunEntries> entries = recorded.map(how -> new RunEntries(
                        new DocumentTrail(there, how.recording().trail()), how.recording(), conclusion.run()));
                each(new StepChanges(new DocumentQuery(there), planned, assigned), planned, changes, entries);
                entries.ifPresent(RunEntries::flush);
            }

            @Override
            public boolean isUnchanged(MongoDatabase there) {
                return unchanged.test(open(there));
            }
        };
        new IntendedRun(database, transactions, clock, passage.by().actor(), ending)
                .carryOut(planned.steps().stream().mapToLong(Step::count).sum(), work);
        return planned.plan().counts();
    }

    @Override
    public RedeemedApprovals redeemed() {
        return new RedeemedDocuments(database);
    }

    /** A run that was cut off may have what is to be taken. */
    @Override
    public TakenApproval take(Redeeming redeeming, UUID run) {
        reading(() -> finish(database, clock));
        return new RedeemedDocuments(database).take(redeeming, run, clock::instant);
    }

    private static void each(
            StepChanges changes, Planned planned, Consumer<Change> taker, Optional<RunEntries> entries) {
        boolean purging = planned.plan().selection().isPurge();
        int number = 0;
        for (Step step : planned.steps()) {
            int current = ++number;
            long found = changes.each(step, changed -> {
                if (!changed.change().isEmpty()) {
                    taker.accept(changed.change());
                    entries.ifPresent(writing ->
                            writing.add(current, StepAction.of(changed.step(), purging), step.table(), changed));
                }
            });
            if (found != step.count()) {
                String count = Math.abs(found - step.count()) + (found > step.count() ? " more" : " fewer");
                throw new StalePlanException(List.of(count + " of " + step.table()));
            }
        }
    }
}
