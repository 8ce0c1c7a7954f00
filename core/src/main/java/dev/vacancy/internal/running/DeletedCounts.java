package dev.vacancy.internal.running;

import dev.vacancy.catalog.Table;
import dev.vacancy.internal.planning.Step;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;

/** How many records the steps deleted that nobody had counted before. */
final class DeletedCounts {
    private final Map<String, Long> counts = new HashMap<>();

    /** Takes what a step did. */
    void add(Step step, long changed) {
        if (!step.isCounted()) {
            counts.merge(step.table().name(), changed, Long::sum);
        }
    }

    /** Returns how many records of a table a step without a count has deleted. */
    long of(Table table) {
        return counts.getOrDefault(table.name(), 0L);
    }

    /** Completes the counts of a plan; tables that lost nothing are left out. */
    Map<String, Long> with(Map<String, Long> planned) {
        Map<String, Long> all = new LinkedHashMap<>(planned);
        all.putAll(counts);
        all.values().removeIf(count -> count == 0);
        return all;
    }
}
