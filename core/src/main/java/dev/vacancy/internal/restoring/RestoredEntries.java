package dev.vacancy.internal.restoring;

import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.TrailStore;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.TreeMap;
import java.util.UUID;

/**
 * Which entries earlier restores have undone, told by the trail: a record is back if its entry is, wherever it may be now. What came
 * back in one go is remembered as one range of places.
 */
final class RestoredEntries {
    private final Map<List<Long>, NavigableMap<Long, Long>> ranges = new HashMap<>();

    /**
     * Reads what some restores have brought back.
     *
     * @param restores their ids
     */
    static RestoredEntries by(TrailStore store, List<UUID> restores) {
        RestoredEntries returned = new RestoredEntries();
        for (UUID restore : restores) {
            store.eachUndone(restore, returned::add);
        }
        return returned;
    }

    private void add(Reference entry) {
        NavigableMap<Long, Long> places = ranges.computeIfAbsent(step(entry), missing -> new TreeMap<>());
        Map.Entry<Long, Long> before = places.floorEntry(entry.place());
        if (before == null || before.getValue() < entry.place() - 1) {
            places.put(entry.place(), entry.place());
        } else if (before.getValue() < entry.place()) {
            places.put(before.getKey(), entry.place());
        }
    }

    boolean contains(Reference entry) {
        NavigableMap<Long, Long> places = ranges.get(step(entry));
        Map.Entry<Long, Long> range = places == null ? null : places.floorEntry(entry.place());
        return range != null && range.getValue() >= entry.place();
    }

    boolean hasAnyOf(UUID run, int step) {
        return ranges.containsKey(step(new Reference(RunNumber.of(run), step, 0)));
    }

    private static List<Long> step(Reference entry) {
        return List.of(entry.run(), (long) entry.step());
    }
}
