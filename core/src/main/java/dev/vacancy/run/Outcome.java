package dev.vacancy.run;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Plan;
import dev.vacancy.plan.Skipped;
import java.time.Duration;
import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;

/**
 * What a run did.
 *
 * @param runId the run's id
 * @param table the table whose records were selected
 * @param by who wanted it, and why
 * @param startedAt when the run began
 * @param took how long it took, to the end of its transaction; for a joined one, to the last statement
 * @param counts how many records were deleted of each table, the selected table first
 * @param marked the tables among these whose records were marked and stay
 * @param changed how many records stay with another foreign key, by link, such as {@code inspection.keeper_id}
 * @param deleted the selected records as they were, with all their values, in the order of their keys; of more than
 *     {@value Plan#MOST_ROOTS} only the first ones
 * @param selected how many selected records were deleted
 * @param notFound the selected keys that no record had
 * @param skipped the selected records that were left out because children forbid their deletion
 * @param keys the keys of deleted records by table, of the tables that {@link Reporting#keysOf} names
 * @param fingerprint the fingerprint of what was approved and done
 * @since 0.1
 */
public record Outcome(
        UUID runId,
        String table,
        By by,
        Instant startedAt,
        Duration took,
        Map<String, Long> counts,
        Set<String> marked,
        Map<String, Long> changed,
        List<RecordContent> deleted,
        long selected,
        List<Key> notFound,
        List<Skipped> skipped,
        Map<String, List<Key>> keys,
        String fingerprint) {
    /** Keeps its own copies of the collections. */
    public Outcome {
        counts = Collections.unmodifiableMap(new LinkedHashMap<>(counts));
        marked = Set.copyOf(marked);
        changed = Collections.unmodifiableMap(new LinkedHashMap<>(changed));
        deleted = List.copyOf(deleted);
        notFound = List.copyOf(notFound);
        skipped = List.copyOf(skipped);
        keys = Map.copyOf(keys);
    }

    /**
     * Returns how many records were deleted in all.
     *
     * @return 0 or more
     */
    public long total() {
        return counts.values().stream().mapToLong(Long::longValue).sum();
    }

    /**
     * Returns the outcome in plain records of text and numbers, for a mapper to JSON or for a page.
     *
     * @return the same without the catalog behind it
     */
    public OutcomeView view() {
        return OutcomeView.of(this);
    }
}
