package dev.vacancy.internal.chunking;

import dev.vacancy.Blocker;
import dev.vacancy.FailureCode;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.Selection;
import dev.vacancy.Skipped;
import dev.vacancy.StalePlanException;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkListener;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.GivenKeys;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.chunking.BulkStore.Claimed;
import dev.vacancy.internal.failure.UnknownOutcomes;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.PlannedDeletion;
import dev.vacancy.internal.planning.Planning;
import dev.vacancy.internal.running.SettledChunk;
import dev.vacancy.internal.running.SettledChunk.Totals;
import dev.vacancy.internal.trail.RunNumber;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;
import java.util.stream.Collectors;

/** One who claims records of a bulk run in a database that isn't relational, and deletes them; what can't be deleted together is taken apart. */
final class StoreWorker {
    /** How often a chunk is planned again in whose way somebody came, with a longer wait each time. */
    private static final int ATTEMPTS = 8;

    private static final Set<FailureCode> OF_THE_WHOLE = Set.of(
            FailureCode.APPROVAL_OF_ANOTHER,
            FailureCode.NOT_AGREED,
            FailureCode.NO_COLLEAGUE,
            FailureCode.RULES,
            FailureCode.DATABASE,
            FailureCode.OUTCOME_UNKNOWN,
            FailureCode.FORBIDDEN);

    private static final String GONE = "it wasn't there any more";
    private static final String CHANGED = "it has stopped matching since the run began";

    private final UUID id = UUID.randomUUID();
    private final BulkRun run;
    private final Table table;
    private final RunConditions conditions;
    private final BulkOptions options;
    private final ChunkSize size;
    private final BulkListener listener;
    private final StoreBulkRuns runs;
    private final BulkStore store;
    private final List<UUID> chunks = new ArrayList<>();
    private Totals totals = Totals.NONE;

    StoreWorker(BulkRun run, RunConditions conditions, BulkOptions options, BulkListener listener, StoreBulkRuns runs) {
        this.run = run;
        this.table = runs.rules().catalog().table(run.table());
        this.conditions = conditions;
        this.options = options;
        this.size = new ChunkSize(options);
        this.listener = listener;
        this.runs = runs;
        this.store = runs.store();
    }

    /** Deletes the next records; returns false if there are none that nobody else has claimed. */
    boolean next() {
        long start = System.nanoTime();
        UUID chunk = newChunk();
        List<Claimed> claimed = runs.reading(() -> store.claim(run.runId(), chunk, size.records()));
        if (claimed.isEmpty()) {
            return false;
        }
        try {
            delete(chunk, claimed);
        } catch (OutcomeUnknownException unknown) {
            throw UnknownOutcomes.of(run.runId(), unknown);
        } catch (VacancyException failure) {
            written(() -> chunks.forEach(each -> store.release(run.runId(), each)));
            throw failure;
        }
        chunks.clear();
        size.took(System.nanoTime() - start);
        return true;
    }

    private UUID newChunk() {
        UUID chunk = RunNumber.newId();
        chunks.add(chunk);
        return chunk;
    }

    private void written(Runnable work) {
        runs.reading(() -> {
            work.run();
            return run;
        });
    }

    private void delete(UUID chunk, List<Claimed> claimed) {
        Turn turn = new Turn();
        boolean again = true;
        for (int attempt = 1; again; attempt++) {
            try {
                attempt(chunk, claimed);
                again = false;
            } catch (TooLarge large) {
                divide(chunk, claimed);
                again = false;
            } catch (VacancyException failure) {
                if (OF_THE_WHOLE.contains(failure.code())) {
                    throw failure;
                }
                again = failure instanceof StalePlanException && attempt < ATTEMPTS;
                if (again) {
                    turn.await();
                    keep(chunk, chunk, claimed);
                } else {
                    takeApart(chunk, claimed, failure);
                }
            }
        }
    }

    private void takeApart(UUID chunk, List<Claimed> claimed, VacancyException failure) {
        if (claimed.size() > 1) {
            divide(chunk, claimed);
        } else {
            fail(chunk, claimed.get(0), String.valueOf(failure.getMessage()));
        }
    }

    /** There is more below several records than is to go at once. */
    private static final class TooLarge extends RuntimeException {
        private static final long serialVersionUID = 1L;
    }

    private void divide(UUID chunk, List<Claimed> claimed) {
        int half = claimed.size() / 2;
        for (List<Claimed> part : List.of(claimed.subList(0, half), claimed.subList(half, claimed.size()))) {
            UUID other = newChunk();
            keep(chunk, other, part);
            delete(other, part);
        }
    }

    /** Keeps what was claimed for a run that deals with it from now on. */
    private void keep(UUID chunk, UUID other, List<Claimed> claimed) {
        List<Long> places = claimed.stream().map(Claimed::place).toList();
        written(() -> store.handOver(run.runId(), chunk, other, places));
    }

    private void fail(UUID chunk, Claimed one, String reason) {
        Settling settling = new Settling();
        settling.fail(one, reason);
        settle(chunk, settling);
    }

    /** What becomes of some claimed records. */
    private final class Settling {
        private final Map<Long, String> failed = new TreeMap<>();
        private final Map<Long, String> skipped = new TreeMap<>();
        private final Map<Long, String> later = new TreeMap<>();

        /** What stood in its way may be gone at the end; unless the first failure ends the run. */
        void fail(Claimed one, String reason) {
            boolean again = !one.triedBefore() && !options.stopAtFailure();
            (again ? later : failed).put(one.place(), reason);
        }

        void skip(Claimed one, String reason) {
            skipped.put(one.place(), reason);
        }

        SettledChunk with(int done, long deleted) {
            return new SettledChunk(
                    run.runId(),
                    done + failed.size() + skipped.size() + later.size(),
                    failed,
                    skipped,
                    later,
                    id,
                    totals.plus(new Totals(done, skipped.size(), failed.size(), deleted)));
        }
    }

    /** Where nothing is to be deleted. */
    private void settle(UUID chunk, Settling settling) {
        SettledChunk settled = settling.with(0, 0);
        boolean mine = runs.reading(() -> store.settle(chunk, run.by(), settled));
        if (mine) {
            ended(settled, List.of());
        }
    }

    private void ended(SettledChunk settled, List<RecordContent> deleted) {
        totals = settled.totals();
        if (!deleted.isEmpty()) {
            listener.deleted(deleted);
        }
        if (!settled.failed().isEmpty() && options.stopAtFailure()) {
            written(() -> store.move(
                    run.runId(),
                    List.of(BulkState.RUNNING),
                    BulkState.STOPPED,
                    runs.clock().instant()));
        }
    }

    private void attempt(UUID chunk, List<Claimed> claimed) {
        Map<Key, Claimed> open = new LinkedHashMap<>();
        for (Claimed one : claimed) {
            open.put(comparable(GivenKeys.resolve(new KeyGiven.InOrder(one.key()), table)), one);
        }
        Settling settling = new Settling();
        Planning now = runs.planning();
        Planned planned = planned(now, open);
        for (Key changed : changed(now, planned.plan())) {
            settling.skip(take(open, changed, claimed), CHANGED);
        }
        if (open.isEmpty()) {
            settle(chunk, settling);
            return;
        }
        if (!settling.skipped.isEmpty()) {
            planned = planned(now, open);
        }
        PlannedDeletion plan = planned.plan();
        if (plan.total() > options.maxPerTransaction() && open.size() > 1) {
            throw new TooLarge();
        }
        plan.skipped()
                .forEach(blocked -> settling.fail(take(open, blocked.root().key(), claimed), reason(blocked)));
        plan.notFound().forEach(key -> settling.skip(take(open, key, claimed), GONE));
        plan.alreadyDeleted().forEach(key -> settling.skip(take(open, key, claimed), GONE));
        // Of what is left nothing blocks any more, but it may be held.
        plan.refuseBlocked();
        if (open.isEmpty()) {
            settle(chunk, settling);
            return;
        }
        SettledChunk settled = settling.with(open.size(), plan.total());
        runs.runner().chunk(now, planned, conditions.standing(), chunk, settled);
        ended(settled, plan.roots());
    }

    private Planned planned(Planning now, Map<Key, Claimed> open) {
        Selection selection = conditions.select(Selection.of(run.table())
                .keys(open.values().stream().map(Claimed::key).toList())
                .skippingBlocked());
        return runs.reading(() -> now.lock(selection, run.by(), Optional.empty()));
    }

    /** Those that have stopped matching since the run began. */
    private List<Key> changed(Planning now, PlannedDeletion plan) {
        if (conditions.criteria().isEmpty() || plan.roots().isEmpty()) {
            return List.of();
        }
        List<Key> there = plan.roots().stream().map(RecordContent::key).toList();
        Set<Key> matching = runs.reading(() -> now
                .reader()
                .matching(
                        table,
                        there,
                        conditions.criteria().get(),
                        Clock.fixed(conditions.moment(), runs.clock().getZone()))
                .stream()
                .map(StoreWorker::comparable)
                .collect(Collectors.toSet()));
        return there.stream().filter(key -> !matching.contains(comparable(key))).toList();
    }

    private static Key comparable(Key key) {
        return RecordKey.of(key).comparable();
    }

    /** Where a record can't be told by its key, the chunk is taken apart until there is only one that it can be. */
    private static Claimed take(Map<Key, Claimed> open, Key key, List<Claimed> claimed) {
        Claimed one = open.remove(comparable(key));
        if (one != null) {
            return one;
        }
        if (claimed.size() == 1 && open.size() == 1) {
            return open.remove(open.keySet().iterator().next());
        }
        throw new TooLarge();
    }

    private static String reason(Skipped blocked) {
        return blocked.blockers().stream().map(Blocker::text).collect(Collectors.joining("; "));
    }
}
