package dev.vacancy.internal.tracing;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.GivenKeys;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.restoring.Erasure;
import dev.vacancy.internal.restoring.Masking;
import dev.vacancy.internal.restoring.TextElsewhere;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.CompletedRun;
import dev.vacancy.internal.running.RunParticipant;
import dev.vacancy.internal.running.Runner;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.running.Work;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.trace.Trace;
import dev.vacancy.trace.TraceOutcome;
import dev.vacancy.trace.TracePlan;
import dev.vacancy.trace.TracedRecord;
import java.sql.SQLException;
import java.time.Clock;
import java.util.function.Consumer;

/**
 * What is known of one person: looked for, handed out, planned to be erased, and erased.
 *
 * @since 0.1
 */
public final class Tracing {
    private final Planner planner;
    private final Rules rules;
    private final Dialect dialect;
    private final Transactions transactions;
    private final Clock clock;
    private final Gate gate;
    private final TextElsewhere elsewhere;
    private final Tracer tracer;

    /**
     * Prepares to look.
     *
     * @param planner works out what becomes of records
     * @param dialect the dialect of the database
     * @param transactions where to read and write
     * @param clock tells when
     * @param gate lets through what was agreed to
     * @param elsewhere what people wrote beside the trail
     */
    public Tracing(
            Planner planner,
            Dialect dialect,
            Transactions transactions,
            Clock clock,
            Gate gate,
            TextElsewhere elsewhere) {
        this.planner = planner;
        this.rules = planner.rules();
        this.dialect = dialect;
        this.transactions = transactions;
        this.clock = clock;
        this.gate = gate;
        this.elsewhere = elsewhere;
        this.tracer = new Tracer(planner, dialect, elsewhere);
    }

    /**
     * Looks for what is known of a person.
     *
     * @param table the table of their record
     * @param key its key
     * @return the trace
     */
    public Trace trace(Table table, KeyGiven key) {
        return trace(table, key(table, key));
    }

    private Trace trace(Table table, Key key) {
        return reading(connection -> TraceParts.trace(rules, tracer.look(connection, table, key), clock.instant()));
    }

    /**
     * Looks once more.
     *
     * @param trace what was found before
     * @return what is found now
     */
    public Trace again(Trace trace) {
        return trace(rules.catalog().table(trace.table()), key(trace));
    }

    private static Key key(Table table, KeyGiven key) {
        CatalogTable.of(table).requireIdentity();
        return GivenKeys.resolve(key, table);
    }

    /** A trace is one of ours, whatever its key looks like in words. */
    static Key key(Trace trace) {
        return ((FoundTrace) trace).record();
    }

    /**
     * Hands out what is known of a person, record by record.
     *
     * @param trace what was found of them
     * @param each takes each record
     */
    public void export(Trace trace, Consumer<TracedRecord> each) {
        Table table = rules.catalog().table(trace.table());
        reading(connection -> {
            new TraceExport(planner, tracer.tables(), connection, each)
                    .handOut(tracer.look(connection, table, key(trace)));
            return null;
        });
    }

    /**
     * Plans to erase what is known of a person.
     *
     * @param trace what was found of them
     * @param by who wants it, and why
     * @return the plan, made anew
     */
    public TracePlan plan(Trace trace, By by) {
        Table table = rules.catalog().table(trace.table());
        TracePlanner planning = parts().planning();
        return reading(connection ->
                planning.plan(connection, tracer.look(connection, table, key(trace), by), by, clock.instant()));
    }

    /**
     * Erases what is known of a person, as was agreed to.
     *
     * @param approval the answer
     * @param participant writes before and after
     * @param told is told which records went, once that is committed
     * @return what came of it
     */
    public TraceOutcome erase(Approval approval, RunParticipant participant, Consumer<CompletedRun> told) {
        if (!(approval.plan() instanceof PlannedTrace agreed)) {
            throw new InvalidRequestException(
                    FailureCode.APPROVAL_OF_ANOTHER,
                    "This approval is not of what is known of a person.",
                    "Plan it by vacancy.plan(trace, by), and agree to that.");
        }
        Table table = rules.catalog().table(agreed.trace().table());
        Runner runner = new Runner(tracer.erasing(table), dialect, clock, gate);
        TraceErasure erasure = new TraceErasure(approval, agreed, parts());
        CompletedRun done = runner.run(erasure, agreed.counts().keySet(), transactions, participant);
        told.accept(done);
        return erasure.outcome(done);
    }

    /**
     * What does the single parts of an erasure.
     *
     * @param planning works out what would be done
     * @param tables the trail's
     */
    record Parts(
            Planner planner,
            Dialect dialect,
            Clock clock,
            Gate gate,
            TextElsewhere elsewhere,
            Tracer tracer,
            TracePlanner planning,
            TrailTables tables,
            Erasure erasure,
            Masking masking) {}

    private Parts parts() {
        TrailTables tables = tracer.tables()
                .orElseThrow(() -> new InvalidRequestException(
                        FailureCode.NO_TRAIL,
                        "Nobody could tell later that it was done: the rules keep no audit trail.",
                        "Add it to the rules: RuleBook.trail(…), or 'trail: on' in vacancy.yaml."));
        Erasure erasure = new Erasure(planner, clock, tables, elsewhere);
        Masking masking = new Masking(planner, clock, tables, elsewhere);
        TracePlanner planning = new TracePlanner(planner, tables, erasure, masking);
        return new Parts(planner, dialect, clock, gate, elsewhere, tracer, planning, tables, erasure, masking);
    }

    private <T> T reading(Work<T> work) {
        return transactions.reading(connection -> {
            try {
                return work.on(connection);
            } catch (SQLException failure) {
                throw new DatabaseException("look for what is known of a person", "Nothing was changed.", failure);
            }
        });
    }
}
