package dev.vacancy.internal.chunking;

import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Decision;
import dev.vacancy.bulk.LeftRecord;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Table;
import dev.vacancy.confirm.BulkApproval;
import dev.vacancy.criteria.Criteria;
import dev.vacancy.criteria.Selection;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.failure.LockedException;
import dev.vacancy.failure.VacancyException;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.running.Runner;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.running.Work;
import dev.vacancy.plan.Plan;
import dev.vacancy.rule.Rules;
import dev.vacancy.run.StalePlanException;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;

/** Bulk runs whose state lives in the database that they work on. */
public final class ChunkedRuns implements BulkRuns {
    private static final int MOST_TRIES = 10;
    private static final Duration TURN = Duration.ofMillis(50);

    private final Planner planner;
    private final Planner unholding;
    private final Runner runner;
    private final Transactions transactions;
    private final Dialect dialect;
    private final StateTables tables;
    private final Clock clock;

    /**
     * Makes the entry to bulk runs.
     *
     * @param planner plans chunks
     * @param runner runs them
     * @param transactions where; its own ones
     * @param dialect the dialect of the database
     * @param clock tells when runs begin and end
     */
    public ChunkedRuns(Planner planner, Runner runner, Transactions transactions, Dialect dialect, Clock clock) {
        this.planner = planner;
        this.unholding =
                new Planner(planner.rules(), dialect, clock, planner.limits().keysHeld(0));
        this.runner = runner;
        this.transactions = transactions;
        this.dialect = dialect;
        this.tables = new StateTables(dialect, planner.limits().lockWait());
        this.clock = clock;
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
        Instant now = clock.instant();
        try (Spool spool = new Spool()) {
            spoolKeys(plan, spool);
            refuseMoved(plan, spool.count(), options.tolerance());
            BulkRun run = new BulkRun(
                    UUID.randomUUID(),
                    options.name().orElseGet(() -> words(plan.selection())),
                    plan.table().name(),
                    words(plan.selection()),
                    plan.by(),
                    BulkState.RUNNING,
                    spool.count(),
                    0,
                    0,
                    0,
                    0,
                    now,
                    Optional.empty());
            StateTables.Terms terms = new StateTables.Terms(handedOver(plan.selection()), digest(planner.rules()));
            return transactions.writing(connection -> {
                tables.insert(connection, run, terms);
                tables.insertRecords(connection, run.runId(), spool.read());
                return run;
            });
        }
    }

    /** Keys that were named are kept as they were given, even if no record has them. */
    private void spoolKeys(Plan plan, Spool spool) {
        if (plan.selection().keys().isEmpty()) {
            transactions.<Void>reading(connection -> {
                planner.eachKey(connection, plan.selection(), plan.madeAt(), key -> spool.add(key.texts()));
                return null;
            });
        } else {
            plan.selection().keys().stream()
                    .map(key -> key.resolve(plan.table()))
                    .distinct()
                    .map(Key::texts)
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
    public BulkRun work(UUID id, BulkOptions options, Decision decision, Consumer<BulkRun> progress) {
        ChunkSize size = new ChunkSize(options);
        while (workChunk(id, options, decision, size)) {
            progress.accept(run(id));
            sleep(options.pause());
        }
        return run(id);
    }

    @Override
    public boolean workChunk(UUID id, BulkOptions options, Decision decision) {
        return workChunk(id, options, decision, new ChunkSize(options));
    }

    private boolean workChunk(UUID id, BulkOptions options, Decision decision, ChunkSize size) {
        BulkRun run = run(id);
        if (run.state() != BulkState.RUNNING) {
            return false;
        }
        StateTables.Terms terms = stored(connection -> tables.terms(connection, id));
        if (!terms.rules().equals(digest(planner.rules()))) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "The rules or the schema are others than those that bulk run " + id + " was approved with.",
                    "Cancel it and start a new one, or work on it with the rules that it was started with.");
        }
        Table table = planner.rules().catalog().table(run.table());
        Chunk chunk = new Chunk(run, table, newParents(terms.handedOver()), decision, runner, tables);
        Attempts attempts = new Attempts(run, chunk, options, size, newParents(terms.handedOver()));
        return attempts.next() || !isEnd(id);
    }

    /** The claims of one worker, and what is done when they can't be deleted together. */
    private final class Attempts {
        private final BulkRun run;
        private final Chunk chunk;
        private final BulkOptions options;
        private final ChunkSize size;
        private final Map<String, List<String>> newParents;

        Attempts(BulkRun run, Chunk chunk, BulkOptions options, ChunkSize size, Map<String, List<String>> newParents) {
            this.run = run;
            this.chunk = chunk;
            this.options = options;
            this.size = size;
            this.newParents = newParents;
        }

        /** Deletes the next records; returns false if there are none that nobody else has claimed. */
        boolean next() {
            long start = System.nanoTime();
            boolean any = attempt(Places.all(size.records()), options.largest());
            if (any) {
                size.took(System.nanoTime() - start);
            }
            return any;
        }

        private boolean attempt(Places places, long most) {
            List<Claimed> claimed = new ArrayList<>();
            try {
                long blocked = stored(connection -> {
                    claimed.clear();
                    claimed.addAll(tables.claim(connection, run.runId(), places));
                    return claimed.isEmpty() ? 0L : chunk.delete(claimed, most, connection);
                });
                if (blocked > 0) {
                    stopIfAsked();
                }
                return !claimed.isEmpty();
            } catch (Chunk.TooLarge large) {
                divide(claimed, large);
            } catch (VacancyException failure) {
                if (claimed.isEmpty()) {
                    throw failure;
                }
                divide(claimed, failure);
            }
            return true;
        }

        private void divide(List<Claimed> claimed, RuntimeException failure) {
            if (claimed.size() > 1) {
                int half = claimed.size() / 2;
                attempt(Places.of(claimed.subList(0, half)), options.largest());
                attempt(Places.of(claimed.subList(half, claimed.size())), options.largest());
            } else if (failure instanceof Chunk.TooLarge) {
                fromTheLeaves(claimed.get(0));
            } else {
                fail(claimed.get(0), failure);
            }
        }

        private void fromTheLeaves(Claimed claimed) {
            Selection selection = Selection.of(run.table()).keys(List.of(claimed.key()));
            for (Map.Entry<String, List<String>> newParent : newParents.entrySet()) {
                selection = selection.reassigning(
                        newParent.getKey(), newParent.getValue().toArray());
            }
            try {
                boolean done = new FromTheLeaves(unholding, runner, transactions, tables)
                        .delete(run, selection, size, () -> run(run.runId()).state() == BulkState.RUNNING);
                if (done) {
                    attempt(Places.of(List.of(claimed)), Long.MAX_VALUE);
                }
            } catch (VacancyException failure) {
                fail(claimed, failure);
            }
        }

        private void fail(Claimed claimed, RuntimeException failure) {
            stored(connection -> {
                int failed = tables.fail(connection, run.runId(), claimed, String.valueOf(failure.getMessage()));
                tables.count(connection, run.runId(), 0, 0, failed, 0);
                return failed;
            });
            stopIfAsked();
        }

        private void stopIfAsked() {
            if (options.stopAtFailure()) {
                move(run.runId(), List.of(BulkState.RUNNING), BulkState.STOPPED);
            }
        }
    }

    /** When nobody has anything left, those that failed are tried once more; then the run is done. */
    private boolean isEnd(UUID id) {
        boolean others = stored(connection -> tables.open(connection, id)) > 0;
        if (others) {
            sleep(TURN);
            return false;
        }
        return stored(connection -> {
            int again = tables.reopen(connection, id);
            tables.count(connection, id, 0, 0, -again, 0);
            if (again == 0) {
                tables.move(connection, id, List.of(BulkState.RUNNING), BulkState.DONE, clock.instant());
            }
            return again == 0;
        });
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

    private int move(UUID id, List<BulkState> from, BulkState to) {
        return stored(connection -> tables.move(connection, id, from, to, clock.instant()));
    }

    /** Workers can get in each other's way; whoever the database chose to end then simply tries again. */
    private <T> T stored(Work<T> work) {
        for (int tries = 1; ; tries++) {
            try {
                return transactions.writing(connection -> {
                    try {
                        return work.on(connection);
                    } catch (SQLException failure) {
                        if (dialect.isLockFailure(failure)) {
                            throw LockedException.ofConflict("the state of the run", failure);
                        }
                        throw failure;
                    }
                });
            } catch (LockedException conflict) {
                if (conflict.code() != FailureCode.TRY_AGAIN || tries == MOST_TRIES) {
                    throw conflict;
                }
                sleep(TURN.multipliedBy(tries));
            }
        }
    }

    private void requireTables() {
        if (!isThere()) {
            throw new InvalidRequestException(
                    FailureCode.NO_STATE_TABLES,
                    "The tables that hold the state of bulk runs are missing: vacancy_bulk_run and vacancy_bulk_record.",
                    "Make them by prepare(), or run the statements of ddl().");
        }
    }

    private static String words(Selection selection) {
        if (selection.isOfAllRecords()) {
            return "all records of " + selection.table();
        }
        return selection
                .criteria()
                .map(Criteria::toString)
                .map(criteria -> selection.table() + " where " + criteria)
                .orElseGet(() -> String.format(
                        Locale.ROOT, "%,d keys of %s", selection.keys().size(), selection.table()));
    }

    /** The new parents as a list: a link, the number of texts of its key, and those texts. */
    private String handedOver(Selection selection) {
        List<String> texts = new ArrayList<>();
        selection.newParents().forEach((where, key) -> {
            List<String> values =
                    key.resolve(planner.rules().catalog().link(where).parent()).texts();
            texts.add(where);
            texts.add(String.valueOf(values.size()));
            texts.addAll(values);
        });
        return TextList.write(texts);
    }

    private static Map<String, List<String>> newParents(String handedOver) {
        List<String> texts = TextList.read(handedOver);
        Map<String, List<String>> newParents = new LinkedHashMap<>();
        for (int i = 0; i < texts.size(); ) {
            int values = Integer.parseInt(texts.get(i + 1));
            newParents.put(texts.get(i), List.copyOf(texts.subList(i + 2, i + 2 + values)));
            i += 2 + values;
        }
        return newParents;
    }

    private static String digest(Rules rules) {
        try {
            byte[] words = rules.view().links().toString().getBytes(StandardCharsets.UTF_8);
            return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(words));
        } catch (NoSuchAlgorithmException missing) {
            throw new IllegalStateException("Every Java platform has SHA-256", missing);
        }
    }

    private static void sleep(Duration time) {
        try {
            TimeUnit.NANOSECONDS.sleep(time.toNanos());
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
        }
    }
}
