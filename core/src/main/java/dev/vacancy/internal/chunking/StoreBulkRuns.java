package dev.vacancy.internal.chunking;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.Selection;
import dev.vacancy.bulk.BulkListener;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.bulk.FailedRecord;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.GivenKeys;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.planning.PlannedDeletion;
import dev.vacancy.internal.planning.PlannedElsewhere;
import dev.vacancy.internal.planning.Planning;
import dev.vacancy.internal.planning.RequestDigest;
import dev.vacancy.internal.request.Most;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.NotOffered;
import dev.vacancy.internal.running.RecordDatabase;
import dev.vacancy.internal.running.StoreRunner;
import dev.vacancy.internal.running.TakenApproval;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.function.Supplier;

/**
 * Bulk runs in a database that isn't relational. Each chunk is a run of its own, which keeps what became of its records as it ends, be it by whoever has to
 * finish it.
 *
 * @since 0.1
 */
public final class StoreBulkRuns implements BulkRuns {
    private static final int PORTION = 1_000;

    private final RecordDatabase database;
    private final BulkStore store;
    private final Rules rules;
    private final Clock clock;
    private final Gate gate;
    private final Supplier<Planning> planning;
    private final Consumer<BulkRun> progressed;

    /**
     * Makes the entry to bulk runs.
     *
     * @param database where the records are
     * @param store where the state of the runs is
     * @param rules the rules
     * @param clock tells when runs begin and end
     * @param gate lets through what was agreed to
     * @param planning opens the records
     * @param progressed is told of a run each time that a chunk of it is done
     */
    public StoreBulkRuns(
            RecordDatabase database,
            BulkStore store,
            Rules rules,
            Clock clock,
            Gate gate,
            Supplier<Planning> planning,
            Consumer<BulkRun> progressed) {
        this.database = database;
        this.store = store;
        this.rules = rules;
        this.clock = clock;
        this.gate = gate;
        this.planning = planning;
        this.progressed = progressed;
    }

    <T> T reading(Supplier<T> work) {
        return database.reading(work);
    }

    BulkStore store() {
        return store;
    }

    Rules rules() {
        return rules;
    }

    Clock clock() {
        return clock;
    }

    /** Each selected record was looked at when the run began; what goes along with them never is. */
    Planning planning() {
        return planning.get().unwatched();
    }

    StoreRunner runner() {
        return new StoreRunner(database, rules, clock, gate);
    }

    @Override
    public BulkRun start(Approval approval, BulkOptions options) {
        return start(approval, options, Optional.empty());
    }

    /**
     * Begins a run that somebody has agreed to.
     *
     * @param approval what was agreed to
     * @param options how it is worked on
     * @param taken the approval that is redeemed by it; empty if it is none that travelled
     * @return the run
     */
    public BulkRun start(Approval approval, BulkOptions options, Optional<TakenApproval> taken) {
        PlannedDeletion agreed = BulkRequests.deletion(approval);
        String request = RequestDigest.of(agreed.selection(), rules.catalog());
        Gate.Standing standing = database.reading(() -> gate.begin(
                approval, PlannedElsewhere.of(agreed, rules, planning.get().scope(request))));
        return begin(agreed.selection(), agreed.by(), agreed.madeAt(), options, standing, Optional.of(agreed), taken);
    }

    @Override
    public BulkRun start(Selection selection, By by, BulkOptions options) {
        Gate.Standing standing = database.reading(
                () -> gate.beginUnasked(planning.get().preview(selection, by).plan()));
        return begin(selection, by, clock.instant(), options, standing, Optional.empty(), Optional.empty());
    }

    private BulkRun begin(
            Selection selection,
            By by,
            Instant moment,
            BulkOptions options,
            Gate.Standing standing,
            Optional<PlannedDeletion> agreed,
            Optional<TakenApproval> taken) {
        if (!options.exemption().name().isEmpty()) {
            throw NotOffered.of("An exemption, which looks things up by a connection,");
        }
        Table table = rules.catalog().table(selection.table());
        RunConditions conditions = RunConditions.of(selection, rules, options, by, moment, standing);
        UUID id = taken.map(TakenApproval::run).orElseGet(UUID::randomUUID);
        return database.reading(() -> {
            Planning looking = planning.get();
            if (looking.isWatched()) {
                looking.look(selection, moment);
            }
            store.prepare(id);
            Lines lines = new Lines(id);
            try {
                String digest = lines.write(selection, table, moment);
                agreed.ifPresent(plan -> BulkRequests.refuseMoved(plan, lines.count, digest, options.tolerance()));
                Instant now = clock.instant();
                StoredBulkRun run = StoredBulkRun.begun(id, options, table, selection, by, lines.count, now);
                store.begin(
                        run,
                        new BulkStore.WrittenConditions(conditions.text(), rules.digest()),
                        taken.flatMap(approval -> agreed.map(plan -> approval.redeemedBy(plan, now))));
                return run;
            } catch (OutcomeUnknownException unknown) {
                throw unknown;
            } catch (RuntimeException refused) {
                store.withdraw(id);
                throw refused;
            }
        });
    }

    /** The records of a run, written down as they are read. */
    private final class Lines {
        private final UUID run;
        private final List<Key> unwritten = new ArrayList<>();
        private long count;

        Lines(UUID run) {
            this.run = run;
        }

        /** Keys that were named are kept as they were given, even if no record has them. Returns the digest of the others. */
        String write(Selection selection, Table table, Instant moment) {
            String digest = "";
            if (selection.keys().isEmpty()) {
                digest = planning.get().eachKey(selection, moment, this::add);
            } else {
                GivenKeys.distinct(selection.keys(), table).forEach(this::add);
            }
            flush();
            return digest;
        }

        private void add(Key key) {
            unwritten.add(key);
            count++;
            if (unwritten.size() == PORTION) {
                flush();
            }
        }

        private void flush() {
            if (!unwritten.isEmpty()) {
                store.add(run, count - unwritten.size() + 1, unwritten);
                unwritten.clear();
            }
        }
    }

    @Override
    public String exemption(UUID run) {
        run(run);
        return conditions(run).exemption();
    }

    private RunConditions conditions(UUID run) {
        return database.reading(() -> {
            BulkStore.WrittenConditions written = store.conditions(run);
            return RunConditions.read(written.text(), written.rules());
        });
    }

    private StoreWorker worker(BulkRun run, BulkOptions options, Exemption exemption, BulkListener listener) {
        RunConditions conditions = conditions(run.runId());
        BulkRequests.requireSame(run.runId(), conditions, rules, exemption);
        return new StoreWorker(run, conditions, options, listener, this);
    }

    @Override
    public BulkRun work(UUID id, BulkOptions options, Exemption exemption, BulkListener listener) {
        BulkRun now = run(id);
        if (now.state() != BulkState.RUNNING) {
            return now;
        }
        StoreWorker worker = worker(now, options, exemption, listener);
        Turn turn = new Turn();
        while (now.state() == BulkState.RUNNING && !Thread.currentThread().isInterrupted()) {
            if (worker.next()) {
                turn.isOver();
                now = run(id);
                progressed.accept(now);
                listener.progressed(now);
                Turn.rest(options.pause(), () -> store.touch(id, clock.instant()));
                now = run(id);
            } else if (isEnd(id, listener)) {
                now = run(id);
            } else {
                turn.await();
                now = run(id);
            }
        }
        return now;
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
        return !isEnd(id, listener);
    }

    /** What others have claimed is still open. */
    private boolean isEnd(UUID id, BulkListener listener) {
        boolean ended = database.reading(() -> !store.isOpen(id));
        if (ended && move(id, List.of(BulkState.RUNNING), BulkState.DONE)) {
            listener.ended(run(id));
        }
        return ended;
    }

    private boolean move(UUID id, List<BulkState> from, BulkState to) {
        return database.reading(() -> store.move(id, from, to, clock.instant()));
    }

    @Override
    public BulkRun run(UUID id) {
        return database.reading(() -> store.run(id)).orElseThrow(() -> BulkRequests.unknown(id));
    }

    @Override
    public List<BulkRun> list() {
        return database.reading(() -> List.copyOf(store.list()));
    }

    @Override
    public List<BulkRun> list(BulkState state) {
        return list().stream().filter(run -> run.state() == state).toList();
    }

    @Override
    public List<FailedRecord> failures(UUID id, int most) {
        Most.require(most);
        StoredBulkRun run = (StoredBulkRun) run(id);
        return database.reading(() -> store.failures(run, most));
    }

    @Override
    public BulkRun pause(UUID id) {
        return moved(id, List.of(BulkState.RUNNING), BulkState.PAUSED);
    }

    @Override
    public BulkRun resume(UUID id) {
        return moved(id, List.of(BulkState.PAUSED, BulkState.STOPPED, BulkState.RUNNING), BulkState.RUNNING);
    }

    /** Whoever cancels what is dealt with already comes too late. */
    @Override
    public BulkRun cancel(UUID id) {
        boolean over = database.reading(() -> !store.isOpen(id));
        return moved(
                id,
                List.of(BulkState.RUNNING, BulkState.PAUSED, BulkState.STOPPED),
                over ? BulkState.DONE : BulkState.CANCELLED);
    }

    private BulkRun moved(UUID id, List<BulkState> from, BulkState to) {
        BulkRun before = run(id);
        if (!move(id, from, to)) {
            throw BulkRequests.unmoved(before, to);
        }
        return run(id);
    }
}
