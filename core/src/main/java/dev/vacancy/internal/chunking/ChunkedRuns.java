package dev.vacancy.internal.chunking;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.Selection;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkListener;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.bulk.FailedRecord;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.GivenKeys;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.failure.UnknownOutcomes;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.planning.PlannedDeletion;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.planning.RequestDigest;
import dev.vacancy.internal.request.Most;
import dev.vacancy.internal.running.Preparation;
import dev.vacancy.internal.running.RunParticipant;
import dev.vacancy.internal.running.Runner;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.tables.OwnTables;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.Consumer;

/** Bulk runs whose state lives in the database that they work on. */
public final class ChunkedRuns implements BulkRuns {

    private final Planner planner;
    private final Planner unholding;
    private final Runner runner;
    private final Transactions transactions;
    private final Dialect dialect;
    private final StateTables tables;
    private final StateTransactions state;
    private final Clock clock;
    private final Consumer<BulkRun> progressed;
    private final Gate gate;
    private volatile boolean there;

    /**
     * Makes the entry to bulk runs.
     *
     * @param planner plans chunks
     * @param runner runs them
     * @param transactions where; its own ones
     * @param dialect the dialect of the database
     * @param clock tells when runs begin and end
     * @param progressed is told of a run each time that a chunk of it was committed
     * @param gate lets through what was agreed to
     */
    public ChunkedRuns(
            Planner planner,
            Runner runner,
            Transactions transactions,
            Dialect dialect,
            Clock clock,
            Consumer<BulkRun> progressed,
            Gate gate) {
        this.gate = gate;
        this.progressed = progressed;
        this.planner = planner;
        this.unholding = planner.within(planner.limits().keysHeld(0));
        this.runner = runner;
        this.transactions = transactions;
        this.dialect = dialect;
        this.tables = new StateTables(dialect, planner.limits().lockWait(), clock);
        this.state = new StateTransactions(transactions, dialect);
        this.clock = clock;
    }

    Planner planner() {
        return planner;
    }

    /** Plans without holding the keys of what isn't selected. */
    Planner unholding() {
        return unholding;
    }

    Runner runner() {
        return runner;
    }

    StateTables tables() {
        return tables;
    }

    StateTransactions state() {
        return state;
    }

    private Preparation preparation() {
        return new Preparation(OwnTables.ofBulkRuns(dialect), dialect, transactions);
    }

    /** Once they were, they are. */
    private boolean isThere() {
        there = there || preparation().missing().isEmpty();
        return there;
    }

    @Override
    public BulkRun start(Approval approval, BulkOptions options) {
        return start(approval, options, RunParticipant.NOBODY);
    }

    /**
     * Begins a run that somebody has agreed to, with somebody who writes in the transaction in which it begins.
     *
     * @param approval what was agreed to
     * @param options how it is worked on
     * @param participant writes before and after
     * @return the run
     */
    public BulkRun start(Approval approval, BulkOptions options, RunParticipant participant) {
        requireTables();
        PlannedDeletion agreed = BulkRequests.deletion(approval);
        String request = RequestDigest.of(agreed.selection(), planner.rules().catalog());
        Gate.Standing standing = transactions.reading(connection -> gate.begin(
                approval, planner.underTheseRules(agreed, planner.on(connection).scope(request))));
        return begin(
                agreed.selection(), agreed.by(), agreed.madeAt(), options, standing, Optional.of(agreed), participant);
    }

    @Override
    public BulkRun start(Selection selection, By by, BulkOptions options) {
        requireTables();
        Gate.Standing standing = transactions.reading(connection -> {
            PlannedDeletion now =
                    unholding.on(connection).preview(selection, by).plan();
            return gate.beginUnasked(now);
        });
        return begin(selection, by, clock.instant(), options, standing, Optional.empty(), RunParticipant.NOBODY);
    }

    private BulkRun begin(
            Selection selection,
            By by,
            Instant moment,
            BulkOptions options,
            Gate.Standing standing,
            Optional<PlannedDeletion> agreed,
            RunParticipant participant) {
        Table table = planner.rules().catalog().table(selection.table());
        if (planner.isWatched()) {
            transactions.<Void>reading(connection -> {
                planner.on(connection).look(selection, moment);
                return null;
            });
        }
        try (SelectedKeysFile spool = new SelectedKeysFile()) {
            String keys = spoolKeys(selection, table, moment, spool);
            agreed.ifPresent(plan -> BulkRequests.refuseMoved(plan, spool.count(), keys, options.tolerance()));
            Instant now = clock.instant();
            BulkRun run = StoredBulkRun.begun(UUID.randomUUID(), options, table, selection, by, spool.count(), now);
            RunConditions conditions = RunConditions.of(selection, planner.rules(), options, by, moment, standing);
            try {
                return state.write(connection -> {
                    participant.before(connection);
                    tables.insert(connection, run, conditions);
                    try (BufferedReader lines = spool.read()) {
                        tables.insertRecords(connection, run.runId(), lines);
                    } catch (IOException failure) {
                        throw new UncheckedIOException(failure);
                    }
                    if (agreed.isPresent()) {
                        participant.after(connection, run.runId(), agreed.get());
                    }
                    return run;
                });
            } catch (OutcomeUnknownException unknown) {
                return begun(run, conditions, unknown);
            }
        }
    }

    /** A run whose line is there has begun; where a lock says nothing of it, it was kept from beginning. */
    private BulkRun begun(BulkRun run, RunConditions conditions, OutcomeUnknownException unknown) {
        OutcomeUnknownException still = UnknownOutcomes.of(run.runId(), unknown);
        boolean fenced = isFenced(run, conditions, still);
        Optional<BulkRun> there;
        try {
            there = transactions.reading(connection -> tables.run(connection, run.runId()));
        } catch (VacancyException unreachable) {
            still.addSuppressed(unreachable);
            throw still;
        }
        if (there.isEmpty() && fenced) {
            throw new DatabaseException(
                    FailureCode.COMMIT_REFUSED,
                    "begin the bulk run",
                    "It was looked up on another connection: nothing was begun. Start it again.",
                    (SQLException) unknown.getCause());
        }
        return there.orElseThrow(() -> still);
    }

    /** Whether it can't begin any more. Its line may come in just now, which is in the way of that. */
    private boolean isFenced(BulkRun run, RunConditions conditions, OutcomeUnknownException unknown) {
        try {
            state.<Void>write(connection -> {
                tables.fence(connection, run, conditions);
                return null;
            });
            return dialect.locksAreLocal();
        } catch (VacancyException failure) {
            unknown.addSuppressed(failure);
            return false;
        }
    }

    /** Keys that were named are kept as they were given, even if no record has them. Returns the digest of the others. */
    private String spoolKeys(Selection selection, Table table, Instant moment, SelectedKeysFile spool) {
        if (selection.keys().isEmpty()) {
            return transactions.reading(connection -> planner.on(connection).eachKey(selection, moment, spool::add));
        }
        GivenKeys.distinct(selection.keys(), table).forEach(spool::add);
        return "";
    }

    @Override
    public BulkRun work(UUID id, BulkOptions options, Exemption exemption, BulkListener listener) {
        BulkRun now = run(id);
        if (now.state() != BulkState.RUNNING) {
            return now;
        }
        Worker worker = worker(now, options, exemption, listener);
        Turn turn = new Turn();
        boolean ended = false;
        while (!ended
                && now.state() == BulkState.RUNNING
                && !Thread.currentThread().isInterrupted()) {
            boolean any = worker.next();
            ended = !any && isEnd(id, listener, turn);
            now = run(id);
            if (any) {
                turn.isOver();
                progressed.accept(now);
            }
            if (!ended) {
                listener.progressed(now);
                Turn.rest(options.pause(), () -> touch(id));
                now = run(id);
            }
        }
        return now;
    }

    private void touch(UUID id) {
        state.write(connection -> {
            tables.touch(connection, id);
            return null;
        });
    }

    @Override
    public boolean workChunk(UUID id, BulkOptions options, Exemption exemption, BulkListener listener) {
        BulkRun run = run(id);
        if (run.state() != BulkState.RUNNING) {
            return false;
        }
        if (worker(run, options, exemption, listener).next()) {
            progressed.accept(run(id));
            return true;
        }
        return !isEnd(id, listener, new Turn());
    }

    private Worker worker(BulkRun run, BulkOptions options, Exemption exemption, BulkListener listener) {
        RunConditions conditions = transactions.reading(connection -> tables.conditions(connection, run.runId()));
        BulkRequests.requireSame(run.runId(), conditions, planner.rules(), exemption);
        return new Worker(run, conditions, options, exemption, listener, this);
    }

    @Override
    public String exemption(UUID id) {
        run(id);
        return transactions
                .reading(connection -> tables.conditions(connection, id))
                .exemption();
    }

    /** When nobody has anything left, those that failed are tried once more; then the run is done. */
    private boolean isEnd(UUID id, BulkListener listener, Turn turn) {
        // What others have claimed and not yet committed is still open here.
        boolean others = transactions.reading(connection -> tables.open(connection, id)) > 0;
        if (others) {
            turn.await();
            return false;
        }
        AtomicBoolean endedHere = new AtomicBoolean();
        boolean ended = state.write(connection -> {
            int again = tables.reopen(connection, id);
            tables.count(connection, id, 0, 0, -again, 0);
            // Somebody else may have opened them again, for whom this one has just waited.
            boolean none = again == 0 && tables.open(connection, id) == 0;
            endedHere.set(none
                    && tables.move(connection, id, List.of(BulkState.RUNNING), BulkState.DONE, clock.instant()) > 0);
            return none;
        });
        if (endedHere.get()) {
            listener.ended(run(id));
        }
        return ended;
    }

    @Override
    public BulkRun run(UUID id) {
        requireTables();
        return transactions
                .reading(connection -> tables.run(connection, id))
                .orElseThrow(() -> BulkRequests.unknown(id));
    }

    @Override
    public List<BulkRun> list() {
        return isThere() ? transactions.reading(tables::list) : List.of();
    }

    @Override
    public List<BulkRun> list(BulkState wanted) {
        return isThere() ? transactions.reading(connection -> tables.list(connection, wanted)) : List.of();
    }

    @Override
    public List<FailedRecord> failures(UUID id, int most) {
        Most.require(most);
        BulkRun run = run(id);
        return transactions.reading(connection -> tables.left(connection, run, most));
    }

    @Override
    public BulkRun pause(UUID id) {
        return moved(id, List.of(BulkState.RUNNING), BulkState.PAUSED);
    }

    @Override
    public BulkRun resume(UUID id) {
        return moved(id, List.of(BulkState.PAUSED, BulkState.STOPPED, BulkState.RUNNING), BulkState.RUNNING);
    }

    @Override
    public BulkRun cancel(UUID id) {
        return moved(id, List.of(BulkState.RUNNING, BulkState.PAUSED, BulkState.STOPPED), BulkState.CANCELLED);
    }

    private BulkRun moved(UUID id, List<BulkState> from, BulkState to) {
        BulkRun before = run(id);
        if (move(id, from, to) == 0) {
            throw BulkRequests.unmoved(before, to);
        }
        return run(id);
    }

    int move(UUID id, List<BulkState> from, BulkState to) {
        return state.write(connection -> tables.move(connection, id, from, to, clock.instant()));
    }

    /** Whoever keeps this may call it later, inside a transaction that a chunk would be a part of. */
    private void refuseJoined() {
        if (transactions.isJoined()) {
            throw new InvalidRequestException(
                    FailureCode.FOREIGN_TRANSACTION,
                    "A bulk run commits each of its chunks, so it can't be part of the application's transaction.",
                    "Call it before that transaction begins, or when it has ended.");
        }
    }

    private void requireTables() {
        refuseJoined();
        if (!isThere()) {
            throw new InvalidRequestException(
                    FailureCode.NO_STATE_TABLES,
                    "The tables that hold the state of bulk runs are missing, or of an earlier version: vacancy_bulk_run and"
                            + " vacancy_bulk_record.",
                    "Make them: Ddl.of(dataSource, Ddl.Part.BULK_RUNS).apply(), or 'vacancy ddl --apply'.");
        }
    }
}
