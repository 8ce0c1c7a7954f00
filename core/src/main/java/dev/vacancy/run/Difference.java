package dev.vacancy.run;

import dev.vacancy.plan.Plan;
import dev.vacancy.rule.Rule;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;

/** Says in words how two plans for the same request differ. */
final class Difference {
    private Difference() {}

    static List<String> between(Plan approved, Plan now) {
        List<String> differences = new ArrayList<>();
        compare(approved.counts(), now.counts(), "", differences);
        compare(staying(approved), staying(now), " to change", differences);
        compare(blocking(approved), blocking(now), " in the way", differences);
        return differences.isEmpty() ? List.of("other records than before, though as many") : differences;
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
