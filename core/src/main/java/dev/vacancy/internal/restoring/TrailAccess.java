package dev.vacancy.internal.restoring;

import dev.vacancy.internal.trail.TrailStore;
import java.util.function.Function;

/** A way to a trail, wherever it is kept. */
@FunctionalInterface
interface TrailAccess {
    /**
     * Reads a trail as it is at one moment.
     *
     * @param work what to read
     * @param <T> what comes of it
     * @return what came of it
     */
    <T> T reading(Function<TrailStore, T> work);
}
