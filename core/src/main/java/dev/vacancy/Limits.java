package dev.vacancy;

import java.time.Duration;

/**
 * How far plans and runs may go.
 *
 * @param lockWait how long a statement waits for a record that somebody else holds, before the run fails and names it; zero
 *     fails at once. Databases that count in whole seconds round up
 * @param keysHeld of how many records of a table, beside the selected ones, a plan holds the keys in memory. Of more they stay in
 *     the database, and a fingerprint has their number and the digest of their keys all the same; 0 or more
 * @since 0.1
 */
public record Limits(Duration lockWait, int keysHeld) {
    private static final int USUAL_KEYS = 10_000;

    /** Refuses negative numbers. */
    public Limits {
        if (lockWait.isNegative() || keysHeld < 0) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "A limit can't be negative: " + lockWait + ", " + keysHeld + ".",
                    "Give zero or more.");
        }
    }

    /**
     * Returns the limits of which nothing else was said: five seconds, and the keys of 10,000 records of a table.
     *
     * @return the usual limits
     */
    public static Limits defaults() {
        return new Limits(Duration.ofSeconds(5), USUAL_KEYS);
    }

    /**
     * Changes how long a statement waits for a record that somebody else holds.
     *
     * @param wait zero or more
     * @return the other limits
     */
    public Limits lockWait(Duration wait) {
        return new Limits(wait, keysHeld);
    }

    /**
     * Changes of how many records of a table the keys are held.
     *
     * @param keys 0 or more
     * @return the other limits
     */
    public Limits keysHeld(int keys) {
        return new Limits(lockWait, keys);
    }
}
