package dev.vacancy.internal.trail;

import java.util.List;

/**
 * What must not go.
 *
 * @param runs the holds that nobody has lifted, the oldest first
 * @param asOf the place that the trail had come to; whatever holds since stands behind it
 * @since 0.1
 */
public record HoldsInForce(List<StoredRun> runs, long asOf) {
    /** Nothing is held, and no trail says so. */
    public static final HoldsInForce NONE = new HoldsInForce(List.of(), Long.MAX_VALUE);

    /** Keeps its own copy of the list. */
    public HoldsInForce {
        runs = List.copyOf(runs);
    }
}
