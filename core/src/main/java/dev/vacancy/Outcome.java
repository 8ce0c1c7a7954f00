package dev.vacancy;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.internal.running.CompletedRun;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;

/**
 * What a run did.
 *
 * @since 0.1
 */
public sealed interface Outcome permits CompletedRun {
    /** {@return the run's id} */
    UUID runId();

    /** {@return the table whose records were selected} */
    String table();

    /** {@return who wanted it, and why} */
    By by();

    /** {@return when the run began} */
    Instant startedAt();

    /** {@return how long it took, to the end of its transaction; for a joined one, to the last statement} */
    Duration took();

    /** {@return how many records were deleted of each table, the selected table first} */
    Map<String, Long> counts();

    /** {@return the tables among these whose records were marked and stay} */
    Set<String> marked();

    /** {@return how many records stay with another foreign key, by link, such as {@code inspection.keeper_id}} */
    Map<String, Long> changed();

    /**
     * {@return the selected records as they were, with all their values, in the order of their keys; of more than {@value
     * Plan#MOST_ROOTS} only the first ones}
     */
    List<RecordContent> deleted();

    /** {@return how many selected records were deleted} */
    long selected();

    /** {@return the selected keys that no record had} */
    List<Key> notFound();

    /** {@return the selected records that were left out because children forbid their deletion} */
    List<Skipped> skipped();

    /** {@return the keys of deleted and marked records by table, of the tables that {@link Reporting#keysOf} names} */
    Map<String, List<Key>> keys();

    /** {@return the keys of records that stay with another content, by table, of the same tables} */
    Map<String, List<Key>> changedKeys();

    /** {@return the fingerprint of what was approved and done; where nobody was asked, of what was known before it was done} */
    String fingerprint();

    /**
     * Returns how many records were deleted in all.
     *
     * @return 0 or more
     */
    default long total() {
        return counts().values().stream().mapToLong(Long::longValue).sum();
    }
}
