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
import dev.vacancy.rule.RuleBook;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.BooleanSupplier;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import org.bson.BsonDocument;
import org.bson.BsonInt32;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A database of documents, on a server without transactions: a run writes down what it means to do, and does it only as far as documents are as
 * planned.
 */
public final class DocumentDatabase implements RecordDatabase {
    private static final Logger LOG = LoggerFactory.getLogger(DocumentDatabase.class);

    private final MongoDatabase database;
    private final Clock clock;
    private final String identity;
    private final DatabaseCatalog catalog;

    private DocumentDatabase(MongoDatabase database, Clock clock, String identity, DatabaseCatalog catalog) {
        this.database = database;
        this.clock = clock;
        this.identity = identity;
        this.catalog = catalog;
    }

    /** Looks at a database, and finishes the runs that were cut off in it. */
    public static DocumentDatabase of(MongoClient client, String name, RuleBook rules, Clock clock) {
        try {
            MongoDatabase database = client.getDatabase(name);
            finish(database, clock);
            return new DocumentDatabase(
                    database,
                    clock,
                    identity(client, name),
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
    public Store open() {
        return new DocumentStore(new DocumentQuery(database), identity);
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
            BooleanSupplier unchanged) {
        passage.require(planned.plan());
        Optional<Recorded> recorded = conclusion.recorded();
        Optional<Ending.Told> told = recorded.map(how ->
                new Ending.Told(new DocumentTrail(database, how.recording().trail()), how.facts()));
        new IntendedRun(
                        database,
                        clock,
                        passage.by().actor(),
                        new Ending(conclusion.run(), told, conclusion.redeemed(), conclusion.chunk()))
                .carryOut(
                        intention -> {
                            Optional<RunEntries> entries = recorded.map(how ->
                                    new RunEntries(told.orElseThrow().trail(), how.recording(), conclusion.run()));
                            writeDown(planned, assigned, intention, entries);
                            entries.ifPresent(RunEntries::flush);
                        },
                        unchanged);
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

    private void writeDown(
            Planned planned, AssignedValues assigned, Intention intention, Optional<RunEntries> entries) {
        StepChanges changes = new StepChanges(new DocumentQuery(database), planned, assigned);
        boolean purging = planned.plan().selection().isPurge();
        int number = 0;
        for (Step step : planned.steps()) {
            int current = ++number;
            long found = changes.each(step, changed -> {
                if (!changed.change().isEmpty()) {
                    intention.add(changed.change());
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
