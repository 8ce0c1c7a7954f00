package dev.vacancy.internal.follow;

/**
 * How far the trail was read for a follow-up.
 *
 * @param place the last run that was read to its end
 * @param step the step that was read last of the run behind it, or 0
 * @param entry the last entry of that step that was read, or 0
 */
public record Position(long place, int step, long entry) {
    /** A run was read to its end. */
    public static Position behind(long run) {
        return new Position(run, 0, 0);
    }

    /** Some of the next run was read. */
    public Position within(int readStep, long lastEntry) {
        return new Position(place, readStep, lastEntry);
    }
}
