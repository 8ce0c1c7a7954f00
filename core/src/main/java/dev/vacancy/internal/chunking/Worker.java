package dev.vacancy.internal.chunking;

import dev.vacancy.bulk.BulkListener;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Decision;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.criteria.Selection;
import dev.vacancy.failure.VacancyException;
import java.util.ArrayList;
import java.util.List;

/** One who claims records of a run and deletes them; what can't be deleted together is taken apart. */
final class Worker {
    private final BulkRun run;
    private final Terms terms;
    private final BulkOptions options;
    private final ChunkSize size;
    private final BulkListener listener;
    private final ChunkedRuns runs;
    private final Chunk chunk;

    Worker(
            BulkRun run,
            Terms terms,
            BulkOptions options,
            ChunkSize size,
            Decision decision,
            BulkListener listener,
            ChunkedRuns runs) {
        this.run = run;
        this.terms = terms;
        this.options = options;
        this.size = size;
        this.listener = listener;
        this.runs = runs;
        this.chunk = new Chunk(run, terms, decision, runs);
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
            chunk.keepOff(runs.runner().holds(runs.state().transactions()));
            long blocked = runs.state().write(connection -> {
                claimed.clear();
                claimed.addAll(runs.tables().claim(connection, run.runId(), places));
                return claimed.isEmpty() ? 0L : chunk.delete(claimed, most, connection);
            });
            List<RecordContent> deleted = chunk.takeDeleted();
            if (!deleted.isEmpty()) {
                listener.deleted(deleted);
            }
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
        Selection selection = terms.select(Selection.of(run.table()).keys(List.of(claimed.key())));
        try {
            boolean done = new FromTheLeaves(runs, terms)
                    .delete(run, selection, size, () -> runs.run(run.runId()).state() == BulkState.RUNNING);
            if (done) {
                attempt(Places.of(List.of(claimed)), Long.MAX_VALUE);
            }
        } catch (VacancyException failure) {
            fail(claimed, failure);
        }
    }

    private void fail(Claimed claimed, RuntimeException failure) {
        runs.state().write(connection -> {
            int failed = runs.tables().fail(connection, run.runId(), claimed, String.valueOf(failure.getMessage()));
            runs.tables().count(connection, run.runId(), 0, 0, failed, 0);
            return failed;
        });
        stopIfAsked();
    }

    private void stopIfAsked() {
        if (options.stopAtFailure()) {
            runs.move(run.runId(), List.of(BulkState.RUNNING), BulkState.STOPPED);
        }
    }
}
