package dev.vacancy.internal.running;

import dev.vacancy.Approval;
import dev.vacancy.BlockedException;
import dev.vacancy.By;
import dev.vacancy.DatabaseException;
import dev.vacancy.Emptying;
import dev.vacancy.EmptyingPlan;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.LockedException;
import dev.vacancy.Mode;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.Plan;
import dev.vacancy.Reporting;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.VacancyException;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.failure.LockFailures;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.EmptyingPlanner;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.PlannedDeletion;
import dev.vacancy.internal.planning.PlannedEmptying;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.planning.RecordObserver;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.LockNotGranted;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.HoldPlacedMeanwhile;
import dev.vacancy.internal.trail.HoldsInForce;
import dev.vacancy.internal.trail.Recorder;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Consumer;
import java.util.stream.Collectors;

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
    private final Gate gate;

    /**
     * Makes a runner.
     *
     * @param planner plans again what was approved
     * @param dialect the dialect of the database
     * @param clock tells when a run began and how long it took
     * @param gate lets through what was agreed to
     */
    public Runner(Planner planner, Dialect dialect, Clock clock, Gate gate) {
        this.planner = planner;
        this.dialect = dialect;
        this.clock = clock;
        this.gate = gate;
    }

    /**
     * Runs an approved plan, all or nothing.
     *
     * @param approval what was agreed to
     * @param transactions where to run it
     * @param reporting what to tell besides
     * @param participant writes before and after
     * @return what happened
     * @throws StalePlanException when the plan would be another one now
     * @throws LockedException when somebody else holds one of the records
     * @throws DatabaseException when the database refuses a statement
     */
    public CompletedRun run(
            Approval approval, Transactions transactions, Reporting reporting, RunParticipant participant) {
        PlannedDeletion agreed = (PlannedDeletion) approval.plan();
        refuseOverlooking(agreed.counts().keySet(), transactions);
        CompletedRun outcome = run(transactions, reporting, participant, new Agreed(approval, Mode.AT_ONCE));
        // The same as in the run, by the fingerprint, and with the children's names.
        return outcome.leavingOut(agreed.skipped());
    }

    /**
     * Deletes what a program has decided to: planned under lock and carried out in one go.
     *
     * @param selection what to delete
     * @param by who wants it, and why
     * @param transactions where to run it
     * @param reporting what to tell besides
     * @return what happened
     */
    public CompletedRun delete(Selection selection, By by, Transactions transactions, Reporting reporting) {
        Table table = planner.rules().catalog().table(selection.table());
        refuseOverlooking(Set.of(table.name()), transactions);
        return run(transactions, reporting, RunParticipant.NOBODY, new Attempt() {
            @Override
            public Planned plan(Connection connection, Optional<HoldsInForce> holds) {
                return planner.on(connection)
                        .decide(selection, by, holds, !reporting.keysOf().isEmpty());
            }

            @Override
            public Passage pass(Connection connection, Planned now) {
                refuseOverlooking(now.plan().counts().keySet(), transactions);
                return gate.passUnasked(now.plan());
            }
        });
    }

    /** Erases the record from the audit trail in the transaction that deletes it. */
    public interface Erasing {
        /**
         * Comes when the record is locked, and still there.
         *
         * @param connection in the transaction of the run
         * @throws SQLException when the database refuses
         */
        void begin(Connection connection) throws SQLException;

        /**
         * Comes when the record has gone.
         *
         * @param connection in the transaction of the run
         * @param passage proof that its deletion has come through the gate, to be erased
         * @throws SQLException when the database refuses
         */
        void end(Connection connection, Passage passage) throws SQLException;
    }

    /**
     * Deletes a record as was agreed to, and erases it from the audit trail.
     *
     * @param approval what was agreed to
     * @param transactions where to run it
     * @param participant writes before and after
     * @param erasing erases it
     * @return what happened
     */
    public CompletedRun erase(
            Approval approval, Transactions transactions, RunParticipant participant, Erasing erasing) {
        PlannedDeletion agreed = (PlannedDeletion) approval.plan();
        refuseOverlooking(agreed.counts().keySet(), transactions);
        return run(transactions, Reporting.none(), participant, new Agreed(approval, Mode.ERASING) {
            @Override
            public void begin(Connection connection) throws SQLException {
                erasing.begin(connection);
            }

            @Override
            public void end(Connection connection, Passage passage, UUID run) throws SQLException {
                erasing.end(connection, passage);
            }
        });
    }

    /** How a run comes to its plan, and through the gate, and what else is done in its transaction. */
    public interface Attempt {
        /**
         * Plans under lock.
         *
         * @param connection in the transaction of the run
         * @param holds what must not go, where it was read before
         * @return the plan
         * @throws SQLException when the database refuses
         */
        Planned plan(Connection connection, Optional<HoldsInForce> holds) throws SQLException;

        /**
         * Goes through the gate.
         *
         * @param connection in the transaction of the run
         * @param now the plan
         * @return the proof, for this plan or for one that it is a part of
         * @throws SQLException when the database refuses
         */
        Passage pass(Connection connection, Planned now) throws SQLException;

        /**
         * Comes when the records are locked, and still there.
         *
         * @param connection in the transaction of the run
         * @throws SQLException when the database refuses
         */
        default void begin(Connection connection) throws SQLException {
            // Nothing is read before.
        }

        /**
         * Comes when the records have gone.
         *
         * @param connection in the transaction of the run
         * @param passage proof that it has come through the gate
         * @param run the number of the run; nothing stands under it in the trail where no record was changed
         * @throws SQLException when the database refuses
         */
        default void end(Connection connection, Passage passage, UUID run) throws SQLException {
            // Nothing else is done.
        }
    }

    /**
     * Carries out a deletion that is a part of something larger, in one transaction with the rest.
     *
     * @param attempt plans it, lets it through and does the rest
     * @param tables the tables that lose records by what was agreed to
     * @param transactions where to run it
     * @param participant writes before and after
     * @return what happened to the records
     */
    public CompletedRun run(
            Attempt attempt, Set<String> tables, Transactions transactions, RunParticipant participant) {
        refuseOverlooking(tables, transactions);
        return run(transactions, Reporting.none(), participant, attempt);
    }

    /** Plans once more what somebody has agreed to. */
    private class Agreed implements Attempt {
        private final Approval approval;
        private final Mode mode;
        private final PlannedDeletion agreed;

        Agreed(Approval approval, Mode mode) {
            this.approval = approval;
            this.mode = mode;
            this.agreed = (PlannedDeletion) approval.plan();
        }

        @Override
        public Planned plan(Connection connection, Optional<HoldsInForce> holds) {
            return planner.on(connection).lock(agreed, holds);
        }

        @Override
        public Passage pass(Connection connection, Planned now) {
            return gate.pass(approval, mode, now.plan(), () -> Difference.between(agreed, now.plan()));
        }
    }

    private CompletedRun run(
            Transactions transactions, Reporting reporting, RunParticipant participant, Attempt attempt) {
        Instant start = clock.instant();
        boolean again = reporting.records().isEmpty();
        return ConflictRetry.tryingAgain(
                transactions, again, () -> once(start, transactions, reporting, participant, attempt));
    }

    private CompletedRun once(
            Instant start,
            Transactions transactions,
            Reporting reporting,
            RunParticipant participant,
            Attempt attempt) {
        UUID runId = RunNumber.newId();
        AtomicReference<CompletedRun> done = new AtomicReference<>();
        Optional<HoldsInForce> holds = holds(transactions);
        try {
            transactions.<Void>writing(connection -> {
                participant.before(connection);
                Planned planned = attempt.plan(connection, holds);
                PlannedDeletion now = planned.plan();
                Passage passage = attempt.pass(connection, planned);
                attempt.begin(connection);
                reporting.records().ifPresent(each -> {
                    Connection lent = LentConnection.of(connection);
                    planner.on(connection)
                            .reader()
                            .eachRecord(now.table(), planned.selected(), record -> each.accept(record, lent));
                });
                ReportedKeys keys = ReportedKeys.of(
                        planned,
                        reporting,
                        planner.rules().catalog(),
                        planner.on(connection).reader());
                Map<String, Long> counts = carryOut(passage, planned, runId, Optional.empty(), connection);
                attempt.end(connection, passage, runId);
                participant.after(connection, runId, passage.plan().proposal());
                done.set(outcome(runId, start, now, counts, keys));
                return null;
            });
        } catch (LockNotGranted lock) {
            throw named(lock, transactions);
        } catch (OutcomeUnknownException unknown) {
            new CommitInquiry(planner.rules(), dialect, transactions).settle(runId, participant, unknown);
        }
        return done.get().took(Duration.between(start, clock.instant()));
    }

    private CompletedRun outcome(UUID runId, Instant start, Plan done, Map<String, Long> counts, ReportedKeys keys) {
        return new CompletedRun(
                runId,
                done.table().name(),
                done.by(),
                start,
                Duration.ZERO,
                counts,
                done.marked(),
                done.changes(),
                done.roots(),
                done.selected(),
                done.notFound(),
                done.skipped(),
                keys.gone(),
                keys.changed(),
                done.fingerprint());
    }

    /**
     * Reads what must not go, where that has to be done before a transaction that writes.
     *
     * @param transactions where to read
     * @return the holds; empty where they are read in the run's own transaction
     */
    public Optional<HoldsInForce> holds(Transactions transactions) {
        return dialect.locksWhatItReads() && !transactions.isJoined()
                ? Optional.of(transactions.reading(
                        connection -> planner.on(connection).holds()))
                : Optional.empty();
    }

    private Map<String, Long> carryOut(
            Passage passage, Planned planned, UUID runId, Optional<UUID> partOf, Connection connection)
            throws SQLException {
        PlannedDeletion plan = planned.plan();
        Instant now = clock.instant();
        Rules rules = planner.rules();
        ColumnAssignments writing =
                new ColumnAssignments(dialect, new AssignedValues(rules, plan.by(), now.atZone(clock.getZone())));
        boolean purging = plan.selection().isPurge();
        Optional<Recording> recording =
                rules.recording().map(trail -> new Recording(new Recorder(trail, dialect), writing, runId, purging));
        DeletedCounts deleted =
                new Execution(passage, planned, planner, dialect, connection, writing, recording).carryOut();
        if (rules.recording().isPresent() && !planned.steps().isEmpty()) {
            RunFacts facts = DeletionFacts.of(runId, passage, plan, partOf, rules, now);
            Set<String> tables =
                    planned.steps().stream().map(step -> step.table().name()).collect(Collectors.toSet());
            append(facts, planned.holds(), tables, connection);
        }
        return deleted.with(planned.counts());
    }

    /**
     * What was done of a chunk in one transaction.
     *
     * @param plan the plan of the chunk
     * @param deleted how many records went, by table
     * @param last whether it was all of the plan; false where no commit spans it, and more is to be done
     */
    public record ChunkPart(Plan plan, Map<String, Long> deleted, boolean last) {}

    private void append(RunFacts facts, HoldsInForce known, Set<String> tables, Connection connection)
            throws SQLException {
        try {
            chain().append(connection, facts, known, tables);
        } catch (HoldPlacedMeanwhile held) {
            throw LockFailures.ofHold(held.table());
        } catch (SQLException failure) {
            if (dialect.isLockFailure(failure)) {
                throw LockFailures.ofConflict("the audit trail", failure);
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
        return transactions.looking(connection -> emptyingPlanner()
                .plan(
                        connection,
                        emptying,
                        by,
                        clock.instant(),
                        planner.on(connection).holds(),
                        false));
    }

    /**
     * Empties a table.
     *
     * @param approval what was agreed to
     * @param transactions where to run it
     * @param participant writes before and after
     * @return what happened
     * @throws StalePlanException when there are other records by now
     * @throws LockedException when somebody else holds one of the records
     */
    public CompletedRun empty(Approval approval, Transactions transactions, RunParticipant participant) {
        Instant start = clock.instant();
        return ConflictRetry.tryingAgain(
                transactions, true, () -> emptyOnce(approval, start, transactions, participant));
    }

    private CompletedRun emptyOnce(
            Approval approval, Instant start, Transactions transactions, RunParticipant participant) {
        Emptier emptier = new Emptier(emptyingPlanner(), dialect, planner.limits(), gate);
        UUID runId = RunNumber.newId();
        AtomicReference<EmptyingPlan> done = new AtomicReference<>();
        Optional<HoldsInForce> holds = holds(transactions);
        try {
            transactions.<Void>writing(connection -> {
                participant.before(connection);
                Passage passage = emptier.empty(approval, witness(runId), holds, connection);
                EmptyingPlan emptied = (EmptyingPlan) passage.plan().proposal();
                done.set(emptied);
                if (planner.rules().recording().isPresent() && emptied.records() > 0) {
                    append(
                            facts(emptied, runId, passage),
                            ((PlannedEmptying) emptied).inForce(),
                            Set.of(emptied.table().name()),
                            connection);
                }
                participant.after(connection, runId, emptied);
                return null;
            });
        } catch (LockNotGranted lock) {
            throw named(lock, transactions);
        } catch (OutcomeUnknownException unknown) {
            new CommitInquiry(planner.rules(), dialect, transactions).settle(runId, participant, unknown);
        }
        EmptyingPlan emptied = done.get();
        return new CompletedRun(
                runId,
                emptied.table().name(),
                emptied.by(),
                start,
                Duration.between(start, clock.instant()),
                emptied.counts(),
                Set.of(),
                Map.of(),
                List.of(),
                emptied.records(),
                List.of(),
                List.of(),
                Map.of(),
                Map.of(),
                emptied.fingerprint());
    }

    private Chain chain() {
        return new Chain(
                new TrailTables(planner.rules().recording().orElseThrow().trail(), dialect));
    }

    private Optional<Emptier.Witness> witness(UUID runId) {
        return planner.rules().recording().map(trail -> (plan, connection) -> {
            Recorder recorder = new Recorder(trail, dialect);
            Recorder.Heading heading =
                    new Recorder.Heading(runId, 1, Action.DELETED, plan.table().name(), Optional.empty());
            Fragment all = Fragment.of(dialect.name(plan.table()) + " as " + Statements.alias());
            Optional<Fragment> statement = recorder.statement(heading, plan.table(), all);
            if (statement.isEmpty()) {
                return recorder.record(heading, plan.table(), all, connection);
            }
            try (PreparedStatement insert = statement.get().prepare(connection)) {
                return insert.executeLargeUpdate();
            }
        });
    }

    private RunFacts facts(EmptyingPlan plan, UUID runId, Passage passage) {
        return new RunFacts(
                runId,
                RunKind.DELETION,
                passage.by().actor(),
                passage.colleague(),
                passage.by().reason(),
                TrailTables.text(clock.instant()),
                plan.table().name(),
                "all records of " + plan.table() + ", at once",
                planner.rules().digest(),
                Map.of(plan.table().name(), plan.records()),
                Optional.empty(),
                Optional.empty());
    }

    private EmptyingPlanner emptyingPlanner() {
        return new EmptyingPlanner(planner);
    }

    /**
     * Plans a chunk of a bulk run and carries it out, inside a transaction of the caller's.
     *
     * @param selection what to delete; blocked records are best left out
     * @param by who wants it, and why
     * @param run the bulk run that it belongs to
     * @param standing what that was approved with
     * @param holds what {@link #holds} gave before the transaction began
     * @param connection a connection in a transaction that writes
     * @param fit refuses plans by an exception of its own, before anything is changed; of a plan that no commit spans it is shown the part that
     *     would be carried out
     * @return the plan, and what was carried out of it
     * @throws BlockedException when records forbid the deletion
     * @throws LockedException when somebody else holds one of the records
     */
    public ChunkPart runChunk(
            Selection selection,
            By by,
            UUID run,
            Gate.Standing standing,
            Optional<HoldsInForce> holds,
            Connection connection,
            Consumer<Planned> fit) {
        try {
            // Each selected record was looked at when the run began; what goes along with them never is.
            Planned planned =
                    planner.watchedBy(RecordObserver.NOBODY).on(connection).lock(selection, by, holds);
            Planned part = planned.firstPart();
            fit.accept(part);
            Passage passage = gate.passChunk(standing, planned.plan());
            Map<String, Long> deleted = carryOut(passage, part, RunNumber.newId(), Optional.of(run), connection);
            boolean last = part.steps().size() == planned.steps().size();
            return new ChunkPart(planned.plan(), last ? planned.plan().counts() : deleted, last);
        } catch (LockNotGranted lock) {
            throw unnamed(lock);
        } catch (SQLException failure) {
            throw new DatabaseException("end the deletion", "Nothing was changed.", failure);
        }
    }

    /** A transaction that looks at an old state of the database doesn't see the children that were added since. */
    private void refuseOverlooking(Set<String> losing, Transactions transactions) {
        boolean declared = planner.rules().catalog().links().stream()
                .filter(link -> losing.contains(link.parent().name()))
                .allMatch(link -> CatalogLink.of(link).enforced());
        if (!dialect.overlooksChildren(Connection.TRANSACTION_SERIALIZABLE, declared)) {
            return;
        }
        OptionalInt level = transactions.joinedAt();
        if (level.isPresent() && dialect.overlooksChildren(level.getAsInt(), declared)) {
            throw new InvalidRequestException(
                    FailureCode.ISOLATION,
                    "The transaction to join may not see children that others have added since it began"
                            + (declared ? "" : ", on links that the database doesn't declare")
                            + ", and its isolation level, "
                            + Isolation.name(level.getAsInt())
                            + ", would leave them as orphans.",
                    "Join a transaction at " + dialect.seesChildrenAt() + ", or run outside of it.");
        }
    }

    /** Asks once more for the records, in transactions of their own, to tell which of them are held. */
    private LockedException named(LockNotGranted lock, Transactions transactions) {
        if (isConflict(lock)) {
            return unnamed(lock);
        }
        String table = lock.table().name();
        if (dialect.skippingLocked(Fragment.of("")).isEmpty()) {
            return LockFailures.ofDatabase(table, lock.getCause());
        }
        try {
            return LockFailures.of(table, held(lock, transactions), lock.getCause());
        } catch (VacancyException | LockNotGranted unknown) {
            LockedException unnamed = LockFailures.of(table, List.of(), lock.getCause());
            unnamed.addSuppressed(unknown);
            return unnamed;
        }
    }

    private static boolean isConflict(LockNotGranted lock) {
        return String.valueOf(lock.getCause().getSQLState()).startsWith(TRANSACTION_ROLLBACK);
    }

    private static LockedException unnamed(LockNotGranted lock) {
        String table = lock.table().name();
        return isConflict(lock)
                ? LockFailures.ofConflict(table, lock.getCause())
                : LockFailures.of(table, List.of(), lock.getCause());
    }

    private List<String> held(LockNotGranted lock, Transactions transactions) {
        if (lock.wanted().isEmpty()) {
            return List.of();
        }
        Condition wanted = lock.wanted().get();
        List<Key> held = new ArrayList<>(transactions.reading(
                connection -> planner.on(connection).reader().keys(lock.table(), wanted, Integer.MAX_VALUE, false)));
        held.removeAll(transactions.writing(
                connection -> planner.on(connection).reader().keys(lock.table(), wanted, Integer.MAX_VALUE, true)));
        return held.stream().map(Key::text).toList();
    }
}
