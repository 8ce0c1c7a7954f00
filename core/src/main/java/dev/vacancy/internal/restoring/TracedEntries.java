package dev.vacancy.internal.restoring;

import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.StoredRun;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * Where a trail tells of a record: its own entries, those of whatever went or was changed with it, and the runs whose words may name it.
 *
 * @param entries the entries
 * @param runs the numbers of the runs
 * @param counts how many of the entries have content, by table
 * @param holds what holds the record, or another that is told of with it
 * @param keptKey its key, if it says nothing of the record and stays
 * @since 0.1
 */
public record TracedEntries(
        Set<Reference> entries,
        Set<Long> runs,
        Map<String, Long> counts,
        List<StoredRun> holds,
        Optional<String> keptKey) {
    /** Keeps its own copies. */
    public TracedEntries {
        entries = Collections.unmodifiableSet(new TreeSet<>(entries));
        runs = Collections.unmodifiableSet(new TreeSet<>(runs));
        counts = Collections.unmodifiableMap(new TreeMap<>(counts));
        holds = List.copyOf(holds);
    }
}
