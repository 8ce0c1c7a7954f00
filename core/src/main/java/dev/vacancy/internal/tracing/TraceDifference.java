package dev.vacancy.internal.tracing;

import dev.vacancy.trace.TracePart;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/** Says in words how what is known differs from what was agreed to erase. */
final class TraceDifference {
    private TraceDifference() {}

    static List<String> between(PlannedTrace agreed, PlannedTrace now) {
        List<String> differences = new ArrayList<>();
        Map<String, Long> before = counts(agreed.trace().parts());
        Map<String, Long> after = counts(now.trace().parts());
        Set<String> all = new LinkedHashSet<>(before.keySet());
        all.addAll(after.keySet());
        for (String what : all) {
            long then = before.getOrDefault(what, 0L);
            long counted = after.getOrDefault(what, 0L);
            if (then != counted) {
                differences.add(String.format(Locale.ROOT, "%,d instead of %,d: %s", counted, then, what));
            }
        }
        return differences.isEmpty() ? List.of("other records than before, though as many") : differences;
    }

    private static Map<String, Long> counts(List<TracePart> parts) {
        Map<String, Long> counts = new LinkedHashMap<>();
        parts.forEach(part ->
                counts.merge(part.where() + ", " + part.relation() + ", " + part.treatment(), part.count(), Long::sum));
        return counts;
    }
}
