package dev.vacancy.internal.running;

import dev.vacancy.Plan;
import dev.vacancy.Proposal;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.rule.Rule;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Set;

/** Says in words how two plans for the same request differ. */
public final class Difference {
    private static final int NAMED = 3;
    private static final String OTHERS = "other records than before, though as many";

    private Difference() {}

    /**
     * Compares what was told of a plan elsewhere with the plan as it is.
     *
     * @param approved how many records of each table were to go, or come back
     * @param now the plan
     * @return what is different, at least a sentence
     */
    public static List<String> between(Map<String, Long> approved, Proposal now) {
        List<String> differences = new ArrayList<>();
        compare(approved, now.counts(), "", differences);
        return differences.isEmpty() ? List.of(OTHERS) : differences;
    }

    static List<String> between(Plan approved, Plan now) {
        List<String> differences = new ArrayList<>();
        compare(approved.counts(), now.counts(), "", differences);
        compare(staying(approved), staying(now), " to change", differences);
        compare(blocking(approved), blocking(now), " in the way", differences);
        compareContents(approved, now, differences);
        return differences.isEmpty() ? List.of(OTHERS) : differences;
    }

    /** Names the first few selected records that hold something else now, and the columns. */
    private static void compareContents(Plan approved, Plan now, List<String> differences) {
        Map<Key, RecordContent> before = new HashMap<>();
        approved.roots().forEach(root -> before.put(root.key(), root));
        int changed = 0;
        for (RecordContent root : now.roots()) {
            List<String> columns = before.containsKey(root.key())
                    ? changed(before.get(root.key()), root, now.ignoredChanges())
                    : List.of();
            if (!columns.isEmpty() && changed++ < NAMED) {
                differences.add(root.table() + " " + root.key() + " has changed in " + String.join(", ", columns));
            }
        }
        if (changed > NAMED) {
            differences.add((changed - NAMED) + " more of " + now.table() + " have changed");
        }
    }

    private static List<String> changed(RecordContent before, RecordContent after, Set<String> ignored) {
        return after.table().columns().stream()
                .filter(column ->
                        !ignored.contains(after.table().name()) && !ignored.contains(after.table() + "." + column))
                .map(Column::name)
                .filter(before.values()::containsKey)
                .filter(name -> !Objects.equals(
                        before.values().get(name), after.values().get(name)))
                .toList();
    }

    private static void compare(
            Map<String, Long> before, Map<String, Long> after, String role, List<String> differences) {
        Set<String> names = new LinkedHashSet<>(before.keySet());
        names.addAll(after.keySet());
        for (String name : names) {
            long more = after.getOrDefault(name, 0L) - before.getOrDefault(name, 0L);
            if (more != 0) {
                differences.add(String.format(
                        Locale.ROOT, "%,d %s of %s%s", Math.abs(more), more > 0 ? "more" : "fewer", name, role));
            }
        }
    }

    private static Map<String, Long> staying(Plan plan) {
        Map<String, Long> counts = new LinkedHashMap<>();
        plan.effects().stream()
                .filter(effect -> effect.rule() != Rule.CASCADE)
                .forEach(effect -> counts.merge(effect.link().where(), effect.count(), Long::sum));
        return counts;
    }

    private static Map<String, Long> blocking(Plan plan) {
        Map<String, Long> counts = new LinkedHashMap<>();
        plan.blockers().forEach(blocker -> counts.merge(blocker.link().where(), blocker.count(), Long::sum));
        return counts;
    }
}
