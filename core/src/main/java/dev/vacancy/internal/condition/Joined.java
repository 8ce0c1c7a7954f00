package dev.vacancy.internal.condition;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.request.Comparison;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;

/** Joins conditions by AND or OR: rows of the same kind become one, and values of one column one list of values. */
final class Joined {
    private Joined() {}

    static Condition of(List<Condition> conditions, boolean either) {
        List<Condition> parts = folded(
                conditions.stream()
                        .flatMap(condition -> partsOf(condition, either))
                        .toList(),
                either);
        if (parts.size() == 1) {
            return parts.get(0);
        }
        return either ? new Condition.AnyOf(parts) : new Condition.AllOf(parts);
    }

    private static Stream<Condition> partsOf(Condition condition, boolean either) {
        if (either && condition instanceof Condition.AnyOf any) {
            return any.parts().stream();
        }
        return !either && condition instanceof Condition.AllOf all ? all.parts().stream() : Stream.of(condition);
    }

    /** {@code x = 1 or x = 2} is {@code x in (1, 2)}; {@code x <> 1 and x <> 2} is its contrary. */
    private static List<Condition> folded(List<Condition> parts, boolean either) {
        Map<Column, Set<Object>> values = new LinkedHashMap<>();
        Map<Column, Integer> occurrences = new LinkedHashMap<>();
        for (Condition part : parts) {
            Condition positive = either ? part : part.contrary();
            Column column = column(positive);
            if (column != null) {
                values.computeIfAbsent(column, missing -> new LinkedHashSet<>()).addAll(values(positive));
                occurrences.merge(column, 1, Integer::sum);
            }
        }
        List<Condition> folded = new ArrayList<>();
        for (Condition part : parts) {
            Column column = column(either ? part : part.contrary());
            if (column == null || occurrences.get(column) == 1) {
                folded.add(part);
            } else if (values.containsKey(column)) {
                Condition oneOf = new Condition.OneOf(column, List.copyOf(values.remove(column)));
                folded.add(either ? oneOf : oneOf.contrary());
            }
        }
        return folded;
    }

    private static Column column(Condition condition) {
        if (condition instanceof Condition.OneOf oneOf) {
            return oneOf.column();
        }
        return condition instanceof Condition.Compares compares && isFoldable(compares) ? compares.column() : null;
    }

    private static boolean isFoldable(Condition.Compares compares) {
        return compares.comparison() == Comparison.EQUAL && compares.isPossible();
    }

    private static List<Object> values(Condition condition) {
        return condition instanceof Condition.OneOf oneOf
                ? oneOf.values()
                : List.of(((Condition.Compares) condition).value());
    }
}
