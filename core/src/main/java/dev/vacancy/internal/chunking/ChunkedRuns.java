package dev.vacancy.internal.chunking;

import dev.vacancy.bulk.BulkListener;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Decision;
import dev.vacancy.bulk.LeftRecord;
import dev.vacancy.confirm.BulkApproval;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.running.Runner;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.plan.Plan;
import dev.vacancy.run.StalePlanException;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.sql.Statement;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.Consumer;

/** Bulk runs whose state lives in the database that they work on. */
public final class ChunkedRuns implements BulkRuns {
    private static final Duration TURN = Duration.ofMillis(50);

    private final Planner planner;
    private final Planner unholding;
    private final Runner runner;
    private final Transactions transactions;
    private final Dialect dialect;
    private final StateTables tables;
    private final StateTransactions state;
    private final Clock clock;
    private final Consumer<BulkRun> progressed;

    /**
     * Makes the entry to bulk runs.
     *
     * @param planner plans chunks
     * @param runner runs them
     * @param transactions where; its own ones
     * @param dialect the dialect of the database
     * @param clock tells when runs begin and end
     * @param progressed is told of a run each time that a chunk of it was committed
     */
    public ChunkedRuns(
            Planner planner,
            Runner runner,
            Transactions transactions,
            Dialect dialect,
            Clock clock,
            Consumer<BulkRun> progressed) {
        this.progressed = progressed;
        this.planner = planner;
        this.unholding =
                new Planner(planner.rules(), dialect, clock, planner.limits().keysHeld(0));
        this.runner = runner;
        this.transactions = transactions;
        this.dialect = dialect;
        this.tables = new StateTables(dialect, planner.limits().lockWait());
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

    @Override
    public List<String> ddl() {
        return StateTables.DDL;
    }

    @Override
    public boolean prepare() {
        if (isThere()) {
            return false;
        }
        return transactions.writing(connection -> {
            try (Statement statement = connection.createStatement()) {
                for (String sql : StateTables.DDL) {
                    statement.execute(sql);
                }
            }
            return true;
        });
    }

    private boolean isThere() {
        return transactions.reading(connection -> dialect.hasTable(connection, "vacancy_bulk_record"));
    }

    @Override
    public BulkRun start(BulkApproval approval, BulkOptions options) {
        requireTables();
        Plan plan = approval.plan();
        Runner.requireColleague(plan, approval.colleague());
        Instant now = clock.instant();
        try (Spool spool = new Spool()) {
            spoolKeys(plan, spool);
            refuseMoved(plan, spool.count(), options.tolerance());
            BulkRun run = new BulkRun(
                    UUID.randomUUID(),
                    options.name().orElseGet(() -> plan.selection().words()),
                    plan.table().name(),
                    plan.selection().words(),
                    plan.by(),
                    BulkState.RUNNING,
                    spool.count(),
                    0,
                    0,
                    0,
                    0,
                    now,
                    Optional.empty());
            Terms terms = Terms.of(plan.selection(), planner.rules());
            return state.write(connection -> {
                tables.insert(connection, run, terms);
                try (BufferedReader keys = spool.read()) {
                    tables.insertRecords(connection, run.runId(), keys);
                } catch (IOException failure) {
                    throw new UncheckedIOException(failure);
                }
                return run;
            });
        }
    }

    /** Keys that were named are kept as they were given, even if no record has them. */
    private void spoolKeys(Plan plan, Spool spool) {
        if (plan.selection().keys().isEmpty()) {
            transactions.<Void>reading(connection -> {
                planner.eachKey(connection, plan.selection(), plan.madeAt(), spool::add);
                return null;
            });
        } else {
            plan.selection().keys().stream()
                    .map(key -> key.resolve(plan.table()))
                    .distinct()
                    .forEach(spool::add);
        }
    }

    private static void refuseMoved(Plan plan, long now, long tolerance) {
        long approved =
                plan.selected() + plan.skipped().size() + plan.notFound().size();
        if (Math.abs(now - approved) > tolerance) {
            throw new StalePlanException(List.of(String.format(
                    Locale.ROOT,
                    "%,d %s of %s",
                    Math.abs(now - approved),
                    now > approved ? "more" : "fewer",
                    plan.table())));
        }
    }

    @Override
    public BulkRun work(UUID id, BulkOptions options, Decision decision, BulkListener listener) {
        ChunkSize size = new ChunkSize(options);
        while (workChunk(id, options, decision, listener, size)) {
            listener.progressed(run(id));
            sleep(options.pause());
        }
        return run(id);
    }

    @Override
    public boolean workChunk(UUID id, BulkOptions options, Decision decision, BulkListener listener) {
        return workChunk(id, options, decision, listener, new ChunkSize(options));
    }

    private boolean workChunk(UUID id, BulkOptions options, Decision decision, BulkListener listener, ChunkSize size) {
        BulkRun run = run(id);
        if (run.state() != BulkState.RUNNING) {
            return false;
        }
        Terms terms = transactions.reading(connection -> tables.terms(connection, id));
        if (!terms.areFor(planner.rules())) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "The rules or the schema are others than those that bulk run " + id + " was approved with.",
                    "Cancel it and start a new one, or work on it with the rules that it was started with.");
        }
        Worker worker = new Worker(run, terms, options, size, decision, listener, this);
        if (worker.next()) {
            progressed.accept(run(id));
            return true;
        }
        return !isEnd(id, listener);
    }

    /** When nobody has anything left, those that failed are tried once more; then the run is done. */
    private boolean isEnd(UUID id, BulkListener listener) {
        // What others have claimed and not yet committed is still open here.
        boolean others = transactions.reading(connection -> tables.open(connection, id)) > 0;
        if (others) {
            sleep(TURN);
            return false;
        }
        AtomicBoolean endedHere = new AtomicBoolean();
        boolean ended = state.write(connection -> {
            int again = tables.reopen(connection, id);
            tables.count(connection, id, 0, 0, -again, 0);
            endedHere.set(again == 0
                    && tables.move(connection, id, List.of(BulkState.RUNNING), BulkState.DONE, clock.instant()) > 0);
            return again == 0;
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
                .orElseThrow(() -> new InvalidRequestException(
                                FailureCode.UNKNOWN_RUN,
                                "There is no bulk run " + id + ".",
                                "List them to see which there are.")
                        .about("run", id));
    }

    @Override
    public List<BulkRun> list() {
        return isThere() ? transactions.reading(tables::list) : List.of();
    }

    @Override
    public List<LeftRecord> left(UUID id, int most) {
        run(id);
        return transactions.reading(connection -> tables.left(connection, id, most));
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
            throw new InvalidRequestException(
                    FailureCode.RUN_STATE,
                    "Bulk run " + id + " is " + before.state() + " and can't become " + to + ".",
                    before.state().isFinal() ? "Start a new one." : "Look at how it stands now.");
        }
        return run(id);
    }

    int move(UUID id, List<BulkState> from, BulkState to) {
        return state.write(connection -> tables.move(connection, id, from, to, clock.instant()));
    }

    private void requireTables() {
        if (!isThere()) {
            throw new InvalidRequestException(
                    FailureCode.NO_STATE_TABLES,
                    "The tables that hold the state of bulk runs are missing: vacancy_bulk_run and vacancy_bulk_record.",
                    "Make them by prepare(), or run the statements of ddl().");
        }
    }

    static void sleep(Duration time) {
        try {
            TimeUnit.NANOSECONDS.sleep(time.toNanos());
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
        }
    }
}
