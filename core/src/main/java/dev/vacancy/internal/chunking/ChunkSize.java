package dev.vacancy.internal.chunking;

import dev.vacancy.Plan;
import dev.vacancy.bulk.BulkOptions;
import java.time.Duration;

/** How many records go in one transaction: a fixed number, or one that comes near to a target time. */
final class ChunkSize {
    private static final int FIRST = 50;

    private final boolean fixed;
    private final Duration target;
    private int records;

    ChunkSize(BulkOptions options) {
        this.fixed = options.chunk().isPresent();
        this.target = options.targetDuration();
        this.records = options.chunk().orElse(FIRST);
    }

    int records() {
        return records;
    }

    /** Grows to twice as many at most, and shrinks to half as many. */
    void took(long nanos) {
        if (!fixed) {
            double fits = records * (double) target.toNanos() / Math.max(1, nanos);
            records = (int) Math.max(
                    1, Math.min(Plan.MOST_ROOTS, Math.max(records / 2.0, Math.min(records * 2.0, fits))));
        }
    }
}
