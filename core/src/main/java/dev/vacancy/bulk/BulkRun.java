package dev.vacancy.bulk;

import dev.vacancy.By;
import dev.vacancy.internal.chunking.StoredBulkRun;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;

/**
 * A bulk run as it stands.
 *
 * @since 0.1
 */
public sealed interface BulkRun permits StoredBulkRun {
    /** {@return its id} */
    UUID runId();

    /** {@return what people call it} */
    String name();

    /** {@return the table whose records were selected} */
    String table();

    /** {@return the selection in words} */
    String selection();

    /** {@return who wanted it, and why} */
    By by();

    /** {@return where it stands} */
    BulkState state();

    /** {@return how many records were selected when it began} */
    long records();

    /** {@return how many of them are deleted} */
    long done();

    /** {@return how many were not there any more, or kept by the run's exemption} */
    long skipped();

    /** {@return how many could not be deleted} */
    long failed();

    /** {@return how many records were deleted in all, those that went with the selected ones among them} */
    long deleted();

    /** {@return when it began} */
    Instant startedAt();

    /** {@return when it ended, empty if it hasn't} */
    Optional<Instant> endedAt();

    /** {@return when somebody worked on it last, or began or resumed it} */
    Instant workedAt();

    /**
     * Tells for how long nobody has been working on it, though it is running.
     *
     * @param now the present moment
     * @return how long; zero for a run that waits for nobody
     */
    default Duration idle(Instant now) {
        return state() == BulkState.RUNNING && workedAt().isBefore(now)
                ? Duration.between(workedAt(), now)
                : Duration.ZERO;
    }

    /**
     * Returns how many of the selected records have not been dealt with.
     *
     * @return 0 or more
     */
    default long open() {
        return records() - done() - skipped() - failed();
    }
}
