package dev.vacancy.internal.trail;

import java.util.Comparator;

/**
 * Which entry of the trail is meant, of whatever run and record: no two ever have the same.
 *
 * @param run the number of its run
 * @param step the run's step, from 1; 0 for the run itself
 * @param place its place in the step, from 1; 0 for the run itself
 * @since 0.1
 */
public record Reference(long run, int step, long place) implements Comparable<Reference> {
    private static final Comparator<Reference> ORDER = Comparator.comparingLong(Reference::run)
            .thenComparingInt(Reference::step)
            .thenComparingLong(Reference::place);

    /**
     * Refers to a run.
     *
     * @param run its number
     * @return the reference
     */
    public static Reference toRun(long run) {
        return new Reference(run, 0, 0);
    }

    /**
     * Tells whether a run is meant and not an entry.
     *
     * @return true for what {@link #toRun} gives
     */
    public boolean isToRun() {
        return step == 0;
    }

    @Override
    public int compareTo(Reference other) {
        return ORDER.compare(this, other);
    }

    @Override
    public String toString() {
        return run + " " + step + " " + place;
    }
}
