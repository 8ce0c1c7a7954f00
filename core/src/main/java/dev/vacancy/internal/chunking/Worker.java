package dev.vacancy.internal.chunking;

import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkListener;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.internal.failure.UnknownOutcomes;
import dev.vacancy.internal.running.LostConnection;
import dev.vacancy.internal.running.Work;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.concurrent.atomic.AtomicReference;

/** One who claims records of a run and deletes them; what can't be deleted together is taken apart. */
final class Worker {
    private static final Set<FailureCode> OF_THE_WHOLE = Set.of(
            FailureCode.APPROVAL_OF_ANOTHER,
            FailureCode.NOT_AGREED,
            FailureCode.NO_COLLEAGUE,
            FailureCode.OTHER_SCHEMA,
            FailureCode.READ_ONLY,
            FailureCode.FOREIGN_TRANSACTION);

    private final BulkRun run;
    private final RunConditions conditions;
    private final BulkOptions options;
    private final ChunkSize size;
    private final BulkListener listener;
    private final ChunkedRuns runs;
    private final Chunk chunk;

    Worker(
            BulkRun run,
            RunConditions conditions,
            BulkOptions options,
            Exemption exemption,
            BulkListener listener,
            ChunkedRuns runs) {
        this.run = run;
        this.conditions = conditions;
        this.options = options;
        this.size = new ChunkSize(options);
        this.listener = listener;
        this.runs = runs;
        this.chunk = new Chunk(run, conditions, exemption, runs);
    }

    /** Deletes the next records; returns false if there are none that nobody else has claimed. */
    boolean next() {
        long start = System.nanoTime();
        int most = size.records();
        boolean any = attempt(connection -> runs.tables().claim(connection, run, most), options.maxPerTransaction());
        if (any) {
            size.took(System.nanoTime() - start);
        }
        return any;
    }

    private boolean attempt(PlaceRange places, long most) {
        return attempt(connection -> runs.tables().claim(connection, run.runId(), places), most);
    }

    private boolean attempt(Work<List<ClaimedRecord>> claim, long most) {
        List<ClaimedRecord> claimed = new ArrayList<>();
        AtomicReference<Chunk.Done> done = new AtomicReference<>(Chunk.Done.NOTHING);
        try {
            chunk.keepOff(runs.runner().holds(runs.state().transactions()));
            runs.state().<Void>write(connection -> {
                claimed.clear();
                done.set(Chunk.Done.NOTHING);
                claimed.addAll(claim.on(connection));
                if (!claimed.isEmpty()) {
                    done.set(chunk.delete(claimed, most, connection));
                }
                return null;
            });
            tell(done.get());
            if (done.get().goesOn()) {
                attempt(PlaceRange.of(claimed), most);
            }
            return !claimed.isEmpty();
        } catch (Chunk.TooLarge large) {
            divide(claimed, large);
        } catch (OutcomeUnknownException unknown) {
            if (!claimed.isEmpty() && isCommitted(claimed, unknown)) {
                tell(done.get());
            }
        } catch (VacancyException failure) {
            if (claimed.isEmpty() || !isOfRecords(failure)) {
                throw failure;
            }
            divide(claimed, failure);
        }
        return true;
    }

    /** Whether a record may be to blame: a lost server, another database or other rules are so for all of them. */
    private static boolean isOfRecords(VacancyException failure) {
        return !OF_THE_WHOLE.contains(failure.code())
                && !(failure instanceof DatabaseException refused && isLost(refused));
    }

    private static boolean isLost(DatabaseException refused) {
        return !(refused.getCause() instanceof SQLException cause) || LostConnection.isOne(cause);
    }

    private void tell(Chunk.Done done) {
        if (!done.deleted().isEmpty()) {
            listener.deleted(done.deleted());
        }
        if (done.blocked() > 0) {
            stopIfAsked();
        }
    }

    /** The lines of a chunk say what came of it as soon as nobody holds them any more. */
    private boolean isCommitted(List<ClaimedRecord> claimed, OutcomeUnknownException unknown) {
        try {
            return runs.state().write(connection -> {
                boolean open = runs.tables().isOpen(connection, run.runId(), claimed.get(0));
                if (open) {
                    runs.tables().fence(connection, run.runId(), claimed.get(0));
                }
                return !open;
            });
        } catch (VacancyException unreachable) {
            OutcomeUnknownException still = UnknownOutcomes.of(run.runId(), unknown);
            still.addSuppressed(unreachable);
            throw still;
        }
    }

    private void divide(List<ClaimedRecord> claimed, RuntimeException failure) {
        if (claimed.size() > 1) {
            int half = claimed.size() / 2;
            attempt(PlaceRange.of(claimed.subList(0, half)), options.maxPerTransaction());
            attempt(PlaceRange.of(claimed.subList(half, claimed.size())), options.maxPerTransaction());
        } else if (failure instanceof Chunk.TooLarge) {
            fromTheLeaves(claimed.get(0));
        } else {
            fail(claimed.get(0), failure);
        }
    }

    private void fromTheLeaves(ClaimedRecord claimed) {
        try {
            boolean done = new LeavesFirstDeletion(runs, conditions, run, claimed)
                    .delete(size, () -> runs.run(run.runId()).state() == BulkState.RUNNING);
            if (done) {
                attempt(PlaceRange.of(List.of(claimed)), Long.MAX_VALUE);
            }
        } catch (OutcomeUnknownException unknown) {
            // Its line is still open, and whoever claims it next sees what is left.
        } catch (VacancyException failure) {
            if (!isOfRecords(failure)) {
                throw failure;
            }
            fail(claimed, failure);
        }
    }

    private void fail(ClaimedRecord claimed, RuntimeException failure) {
        int noted = runs.state().write(connection -> {
            boolean begun = runs.tables().isBegun(connection, run.runId(), claimed);
            int failed = runs.tables().fail(connection, run.runId(), claimed, reason(failure, begun));
            runs.tables().count(connection, run.runId(), 0, 0, failed, 0);
            return failed;
        });
        if (noted > 0) {
            stopIfAsked();
        }
    }

    /** What a failure says of the data is said of its own transaction, and isn't true of the record where that wasn't the first one. */
    private static String reason(RuntimeException failure, boolean begun) {
        return begun && failure instanceof VacancyException refused
                ? refused.problem()
                : String.valueOf(failure.getMessage());
    }

    private void stopIfAsked() {
        if (options.stopAtFailure()) {
            runs.move(run.runId(), List.of(BulkState.RUNNING), BulkState.STOPPED);
        }
    }
}
