package dev.vacancy.internal.running;

import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Skipped;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.internal.catalog.KeyList;
import java.time.Duration;
import java.time.Instant;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.UUID;

/**
 * What a run did, as the runner tells it.
 *
 * @since 0.1
 */
public record CompletedRun(
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
        Map<String, List<Key>> changedKeys,
        String fingerprint)
        implements Outcome {
    /** Keeps its own copies of the collections. */
    public CompletedRun {
        counts = Collections.unmodifiableMap(new LinkedHashMap<>(counts));
        marked = Set.copyOf(marked);
        changed = Collections.unmodifiableMap(new LinkedHashMap<>(changed));
        deleted = List.copyOf(deleted);
        notFound = KeyList.copyOf(notFound);
        skipped = List.copyOf(skipped);
        keys = Map.copyOf(keys);
        changedKeys = Map.copyOf(changedKeys);
    }

    /** The same, with what it took. */
    CompletedRun took(Duration time) {
        return with(time, deleted, skipped, keys, changedKeys);
    }

    /**
     * Returns the same outcome with the keys of fewer tables.
     *
     * @param tables the names of those tables
     * @return the outcome
     */
    public CompletedRun keysOf(Set<String> tables) {
        return with(took, deleted, skipped, only(keys, tables), only(changedKeys, tables));
    }

    private static Map<String, List<Key>> only(Map<String, List<Key>> all, Set<String> tables) {
        Map<String, List<Key>> some = new LinkedHashMap<>(all);
        some.keySet().retainAll(tables);
        return some;
    }

    /** The same, with what was left out as it was told before. */
    CompletedRun leavingOut(List<Skipped> leftOut) {
        return showing(deleted, leftOut);
    }

    /**
     * Returns the same outcome as somebody sees it.
     *
     * @param shown the selected records
     * @param leftOut the records that were left out
     * @return the outcome
     */
    public CompletedRun showing(List<RecordContent> shown, List<Skipped> leftOut) {
        return with(took, shown, leftOut, keys, changedKeys);
    }

    private CompletedRun with(
            Duration time,
            List<RecordContent> shown,
            List<Skipped> leftOut,
            Map<String, List<Key>> gone,
            Map<String, List<Key>> other) {
        return new CompletedRun(
                runId,
                table,
                by,
                startedAt,
                time,
                counts,
                marked,
                changed,
                shown,
                selected,
                notFound,
                leftOut,
                gone,
                other,
                fingerprint);
    }
}
