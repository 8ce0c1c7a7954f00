package dev.vacancy;

import dev.vacancy.internal.request.GivenLimits;
import java.time.Duration;

/**
 * How far plans and runs may go.
 *
 * @since 0.1
 */
public sealed interface Limits permits GivenLimits {
    /**
     * {@return how long a statement waits for a record that somebody else holds, before the run fails and names it; zero fails at
     * once. Databases that count in whole seconds round up}
     */
    Duration lockWait();

    /**
     * {@return of how many records of a table, beside the selected ones, a plan holds the keys in memory. Of more they stay in the
     * database, and a fingerprint has their number and the digest of their keys all the same; 0 or more}
     */
    int keysHeld();

    /**
     * Returns the limits of which nothing else was said: five seconds, and the keys of 10,000 records of a table.
     *
     * @return the usual limits
     */
    static Limits defaults() {
        return new GivenLimits(Duration.ofSeconds(5), GivenLimits.USUAL_KEYS);
    }

    /**
     * Changes how long a statement waits for a record that somebody else holds.
     *
     * @param wait zero or more
     * @return the other limits
     * @throws InvalidRequestException when it is negative
     */
    default Limits lockWait(Duration wait) {
        return new GivenLimits(wait, keysHeld());
    }

    /**
     * Changes of how many records of a table the keys are held.
     *
     * @param keys 0 or more
     * @return the other limits
     * @throws InvalidRequestException when it is negative
     */
    default Limits keysHeld(int keys) {
        return new GivenLimits(lockWait(), keys);
    }
}
