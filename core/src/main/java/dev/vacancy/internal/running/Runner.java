package dev.vacancy.internal.running;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.confirm.Approval;
import dev.vacancy.confirm.BlockedException;
import dev.vacancy.confirm.EmptyingApproval;
import dev.vacancy.criteria.Selection;
import dev.vacancy.failure.DatabaseException;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.failure.LockedException;
import dev.vacancy.failure.VacancyException;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.planning.EmptyingPlanner;
import dev.vacancy.internal.planning.NotGranted;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.Recorder;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.internal.trail.TrailTables.StoredRun;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Effect;
import dev.vacancy.plan.Emptying;
import dev.vacancy.plan.EmptyingPlan;
import dev.vacancy.plan.Plan;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Rules;
import dev.vacancy.run.Outcome;
import dev.vacancy.run.Reporting;
import dev.vacancy.run.StalePlanException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.function.Consumer;

/**
 * Carries out what was approved, and nothing else: locks the records, plans again, compares, and only then changes
 * anything.
 *
 * @since 0.1
 */
public final class Runner {
    /** The class of SQLSTATE of transactions that the database ended (ISO/IEC 9075-2, section 24.1). */
    private static final String TRANSACTION_ROLLBACK = "40";

    private final Planner planner;
    private final Dialect dialect;
    private final Clock clock;

    /**
     * Makes a runner.
     *
     * @param planner plans again what was approved
     * @param dialect the dialect of the database
     * @param clock tells when a run began and how long it took
     */
    public Runner(Planner planner, Dialect dialect, Clock clock) {
        this.planner = planner;
        this.dialect = dialect;
        this.clock = clock;
    }

    /**
     * Runs an approved plan, all or nothing.
     *
     * @param approval what was agreed to
     * @param transactions where to run it
     * @param reporting what to tell besides
     * @return what happened
     * @throws StalePlanException when the plan would be another one now
     * @throws LockedException when somebody else holds one of the records
     * @throws DatabaseException when the database refuses a statement
     */
    public Outcome run(Approval approval, Transactions transactions, Reporting reporting) {
        return run(approval, transactions, reporting, Attendant.NOBODY);
    }

    /**
     * Does the same with somebody who writes in the same transaction.
     *
     * @param approval what was agreed to
     * @param transactions where to run it
     * @param reporting what to tell besides
     * @param attendant writes before and after
     * @return what happened
     */
    public Outcome run(Approval approval, Transactions transactions, Reporting reporting, Attendant attendant) {
        requireColleague(approval.plan(), approval.colleague());
        Instant start = clock.instant();
        Map<String, List<Key>> keys = new LinkedHashMap<>();
        UUID runId = UUID.randomUUID();
        Plan done;
        try {
            done = execute(approval, runId, transactions, reporting, attendant, keys);
        } catch (NotGranted lock) {
            throw named(lock, transactions);
        }
        Duration took = Duration.between(start, clock.instant());
        return new Outcome(
                runId,
                done.table().name(),
                done.by(),
                start,
                took,
                done.counts(),
                done.marked(),
                changed(done),
                done.roots(),
                done.selected(),
                done.notFound(),
                // The same as in the run, by the fingerprint, and with the children's names.
                approval.plan().skipped(),
                keys,
                done.fingerprint());
    }

    private Plan execute(
            Approval approval,
            UUID runId,
            Transactions transactions,
            Reporting reporting,
            Attendant attendant,
            Map<String, List<Key>> keys) {
        refuseOverlooking(approval.plan(), transactions);
        Optional<List<StoredRun>> holds = holds(transactions);
        return transactions.writing(connection -> {
            attendant.before(connection);
            Planned planned = planner.lock(connection, approval.plan(), holds);
            Plan now = planned.plan();
            if (!now.fingerprint().equals(approval.fingerprint())) {
                throw new StalePlanException(Difference.between(approval.plan(), now));
            }
            // What somebody holds since isn't what was agreed to.
            Approval.of(now);
            reporting
                    .records()
                    .ifPresent(each -> planner.eachRecord(connection, now.table(), planned.selected(), each));
            keys.putAll(keys(planned, reporting, connection));
            carryOut(planned, runId, Optional.empty(), approval.colleague(), connection);
            attendant.after(connection, runId, now);
            return now;
        });
    }

    /**
     * Reads what must not go, where that has to be done before a transaction that writes.
     *
     * @param transactions where to read
     * @return the holds; empty where they are read in the run's own transaction
     */
    public Optional<List<StoredRun>> holds(Transactions transactions) {
        return dialect.locksWhatItReads() && transactions.joinedAt().isEmpty()
                ? Optional.of(transactions.reading(planner::holds))
                : Optional.empty();
    }

    /**
     * Refuses what nobody else has agreed to, where the rules want that.
     *
     * @param plan what is to be done
     * @param colleague who has agreed
     */
    public static void requireColleague(Plan plan, Optional<By> colleague) {
        requireColleague(plan.colleague(), plan.table(), colleague);
    }

    private static void requireColleague(boolean needed, Table table, Optional<By> colleague) {
        if (needed && colleague.isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.NOT_AGREED,
                    "By the rules a colleague has to agree to this deletion from " + table + " as well.",
                    "Let somebody else look at the plan and agree, and say who it was.");
        }
    }

    private void carryOut(
            Planned planned, UUID runId, Optional<UUID> partOf, Optional<By> colleague, Connection connection)
            throws SQLException {
        Plan plan = planned.plan();
        Instant now = clock.instant();
        Rules rules = planner.rules();
        Writing writing = new Writing(rules, dialect, plan.by(), now.atZone(clock.getZone()));
        boolean purging = plan.selection().isPurge();
        Optional<Recording> recording =
                rules.recording().map(trail -> new Recording(new Recorder(trail, dialect), writing, runId, purging));
        new Execution(planned, planner, dialect, connection, writing, recording).carryOut();
        if (rules.recording().isPresent() && !planned.steps().isEmpty()) {
            RunFacts facts = new RunFacts(
                    runId,
                    purging ? "purge" : "deletion",
                    plan.by().actor(),
                    reason(plan.by(), colleague),
                    TrailTables.text(now),
                    plan.table().name(),
                    plan.selection().words(),
                    rules.digest(),
                    plan.counts(),
                    partOf,
                    Optional.empty());
            append(chain(), facts, connection);
        }
    }

    /** Who has agreed besides is told with the reason. */
    private static Optional<String> reason(By by, Optional<By> colleague) {
        return colleague
                .map(other -> by.reason().map(why -> why + "; ").orElse("") + "agreed to by " + other.actor())
                .or(by::reason);
    }

    private void append(Chain chain, RunFacts facts, Connection connection) throws SQLException {
        try {
            chain.append(connection, facts);
        } catch (SQLException failure) {
            if (dialect.isLockFailure(failure)) {
                throw LockedException.ofConflict("the audit trail", failure);
            }
            throw failure;
        }
    }

    /**
     * Looks at what emptying a table would do.
     *
     * @param emptying what is wanted
     * @param by who wants it, and why
     * @param transactions where to look
     * @return the plan
     * @throws InvalidRequestException when the table is unknown, or links point at it
     */
    public EmptyingPlan plan(Emptying emptying, By by, Transactions transactions) {
        return transactions.reading(
                connection -> emptyingPlanner().plan(connection, emptying, by, clock.instant(), false));
    }

    /**
     * Empties a table.
     *
     * @param approval what was agreed to
     * @param transactions where to run it
     * @return what happened
     * @throws StalePlanException when there are other records by now
     * @throws LockedException when somebody else holds one of the records
     */
    public Outcome empty(EmptyingApproval approval, Transactions transactions) {
        Table table = approval.plan().table();
        boolean needed =
                planner.rules().consent(table).filter(ConsentRule::colleague).isPresent();
        requireColleague(needed, table, approval.colleague());
        Instant start = clock.instant();
        Emptier emptier = new Emptier(emptyingPlanner(), dialect, planner.limits());
        UUID runId = UUID.randomUUID();
        EmptyingPlan done;
        try {
            done = transactions.writing(connection -> {
                EmptyingPlan emptied = emptier.empty(approval, witness(runId), connection);
                if (planner.rules().recording().isPresent() && emptied.records() > 0) {
                    append(chain(), facts(emptied, runId, approval.colleague()), connection);
                }
                return emptied;
            });
        } catch (NotGranted lock) {
            throw named(lock, transactions);
        }
        Map<String, Long> counts =
                done.records() == 0 ? Map.of() : Map.of(done.table().name(), done.records());
        return new Outcome(
                runId,
                done.table().name(),
                done.by(),
                start,
                Duration.between(start, clock.instant()),
                counts,
                Set.of(),
                Map.of(),
                List.of(),
                done.records(),
                List.of(),
                List.of(),
                Map.of(),
                done.fingerprint());
    }

    private Chain chain() {
        return new Chain(
                new TrailTables(planner.rules().recording().orElseThrow().trail(), dialect));
    }

    private Optional<Emptier.Witness> witness(UUID runId) {
        return planner.rules().recording().map(trail -> (plan, connection) -> {
            Recorder recorder = new Recorder(trail, dialect);
            Recorder.Heading heading = new Recorder.Heading(runId, 1, "deleted", plan.table(), Optional.empty());
            Fragment all = Fragment.of(dialect.name(plan.table()) + " as " + Statements.alias());
            Optional<Fragment> statement = recorder.statement(heading, all);
            if (statement.isEmpty()) {
                return recorder.record(heading, all, connection);
            }
            try (PreparedStatement insert = statement.get().prepare(connection)) {
                return insert.executeLargeUpdate();
            }
        });
    }

    private RunFacts facts(EmptyingPlan plan, UUID runId, Optional<By> colleague) {
        return new RunFacts(
                runId,
                "deletion",
                plan.by().actor(),
                reason(plan.by(), colleague),
                TrailTables.text(clock.instant()),
                plan.table().name(),
                "all records of " + plan.table() + ", at once",
                planner.rules().digest(),
                Map.of(plan.table().name(), plan.records()),
                Optional.empty(),
                Optional.empty());
    }

    private EmptyingPlanner emptyingPlanner() {
        return new EmptyingPlanner(planner.rules(), dialect, planner.limits());
    }

    private Map<String, List<Key>> keys(Planned planned, Reporting reporting, Connection connection) {
        Map<String, List<Key>> keys = new LinkedHashMap<>();
        reporting
                .keysOf()
                .forEach(name -> keys.put(planner.rules().catalog().table(name).name(), new ArrayList<>()));
        for (Step step : planned.steps()) {
            if (step instanceof Step.Delete && keys.containsKey(step.table().name())) {
                keys.get(step.table().name())
                        .addAll(planner.keys(connection, step.table(), step.condition(), Integer.MAX_VALUE, false));
            }
        }
        return keys;
    }

    /**
     * Plans a deletion and runs it at once, inside a transaction of the caller's: whoever asks has agreed to whatever the
     * selection matches.
     *
     * @param selection what to delete; blocked records are best left out
     * @param by who wants it, and why
     * @param partOf the bulk run that it belongs to
     * @param holds what {@link #holds} gave before the transaction began
     * @param connection a connection in a transaction that writes
     * @param fit refuses plans by an exception of its own, before anything is changed
     * @return the plan that was carried out
     * @throws BlockedException when records forbid the deletion
     * @throws LockedException when somebody else holds one of the records
     */
    public Plan runAtOnce(
            Selection selection,
            By by,
            Optional<UUID> partOf,
            Optional<List<StoredRun>> holds,
            Connection connection,
            Consumer<Plan> fit) {
        try {
            Planned planned = planner.lock(connection, selection, by, holds);
            fit.accept(planned.plan());
            Approval.of(planned.plan());
            carryOut(planned, UUID.randomUUID(), partOf, Optional.empty(), connection);
            return planned.plan();
        } catch (NotGranted lock) {
            throw unnamed(lock);
        } catch (SQLException failure) {
            throw new DatabaseException("end the deletion", "Nothing was changed.", failure);
        }
    }

    /** A transaction that looks at an old state of the database doesn't see the children that were added since. */
    private void refuseOverlooking(Plan plan, Transactions transactions) {
        boolean declared = planner.rules().catalog().links().stream()
                .filter(link -> plan.counts().containsKey(link.parent().name()))
                .allMatch(Link::isEnforced);
        if (transactions.joinedAt().isPresent()
                && dialect.overlooksChildren(transactions.joinedAt().getAsInt(), declared)) {
            throw new InvalidRequestException(
                    FailureCode.ISOLATION,
                    "The transaction to join may not see children that others have added since it began"
                            + (declared ? "" : ", on links that the database doesn't declare")
                            + ", and its isolation level, "
                            + Isolation.name(transactions.joinedAt().getAsInt())
                            + ", would leave them as orphans.",
                    "Join a transaction at " + dialect.seesChildrenAt() + ", or run outside of it.");
        }
    }

    /** Asks once more for the records, in transactions of their own, to tell which of them are held. */
    private LockedException named(NotGranted lock, Transactions transactions) {
        if (isConflict(lock)) {
            return unnamed(lock);
        }
        String table = lock.table().name();
        if (dialect.skippingLocked(Fragment.of("")).isEmpty()) {
            return LockedException.ofDatabase(table, lock.getCause());
        }
        try {
            return LockedException.of(table, held(lock, transactions), lock.getCause());
        } catch (VacancyException | NotGranted unknown) {
            LockedException unnamed = LockedException.of(table, List.of(), lock.getCause());
            unnamed.addSuppressed(unknown);
            return unnamed;
        }
    }

    private static boolean isConflict(NotGranted lock) {
        return String.valueOf(lock.getCause().getSQLState()).startsWith(TRANSACTION_ROLLBACK);
    }

    private static LockedException unnamed(NotGranted lock) {
        String table = lock.table().name();
        return isConflict(lock)
                ? LockedException.ofConflict(table, lock.getCause())
                : LockedException.of(table, List.of(), lock.getCause());
    }

    private List<String> held(NotGranted lock, Transactions transactions) {
        if (lock.wanted().isEmpty()) {
            return List.of();
        }
        Condition wanted = lock.wanted().get();
        List<Key> held = new ArrayList<>(transactions.reading(
                connection -> planner.keys(connection, lock.table(), wanted, Integer.MAX_VALUE, false)));
        held.removeAll(transactions.writing(
                connection -> planner.keys(connection, lock.table(), wanted, Integer.MAX_VALUE, true)));
        return held.stream().map(Key::text).toList();
    }

    /**
     * Counts the children that stay with another foreign key.
     *
     * @param plan what is done
     * @return how many, by link
     */
    public static Map<String, Long> changed(Plan plan) {
        Map<String, Long> changed = new LinkedHashMap<>();
        for (Effect effect : plan.effects()) {
            if (effect.isChange()) {
                changed.merge(effect.link().where(), effect.count(), Long::sum);
            }
        }
        return changed;
    }
}
