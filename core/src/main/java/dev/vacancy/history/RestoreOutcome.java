package dev.vacancy.history;

import dev.vacancy.By;
import dev.vacancy.internal.restoring.CompletedRestore;
import java.time.Instant;
import java.util.Map;
import java.util.UUID;

/**
 * What came back.
 *
 * @since 0.1
 */
public sealed interface RestoreOutcome permits CompletedRestore {
    /** {@return the id of the restore} */
    UUID runId();

    /** {@return the run that was undone} */
    UUID undone();

    /** {@return who wanted it, and why} */
    By by();

    /** {@return when} */
    Instant at();

    /** {@return how many records came back, by table} */
    Map<String, Long> counts();

    /** {@return how many foreign keys were put back, by link} */
    Map<String, Long> putBack();
}
