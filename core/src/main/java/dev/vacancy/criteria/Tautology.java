package dev.vacancy.criteria;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;

/**
 * Recognises conditions that every record meets. It reads the condition alone, not the records: {@code hive_id > 0} is
 * left standing, even where no record has another key.
 */
final class Tautology {
    private Tautology() {}

    static boolean is(Condition condition) {
        if (condition instanceof Condition.AllOf all) {
            return all.parts().stream().allMatch(Tautology::is);
        }
        if (condition instanceof Condition.AnyOf any) {
            return any.parts().stream().anyMatch(Tautology::is)
                    || any.parts().stream().anyMatch(part -> any.parts().contains(part.contrary()))
                    || leaveNothingOut(any.parts());
        }
        if (condition instanceof Condition.OfParent parent) {
            return isAlwaysThere(parent.link()) && is(parent.condition());
        }
        return leaveNothingOut(List.of(condition));
    }

    private static boolean isAlwaysThere(Link link) {
        return link.declared() && link.childColumns().stream().noneMatch(Column::nullable);
    }

    /** Whether one of these alternatives holds for whatever a column may contain. */
    private static boolean leaveNothingOut(List<Condition> parts) {
        Set<Column> columns = new HashSet<>();
        parts.forEach(part -> column(part).forEach(columns::add));
        return columns.stream().anyMatch(column -> {
            List<Condition> ofColumn = parts.stream()
                    .filter(part -> column(part).anyMatch(column::equals))
                    .toList();
            return (!column.nullable() || ofColumn.contains(new Condition.IsNull(column)))
                    && places(ofColumn).allMatch(place -> ofColumn.stream().anyMatch(part -> holds(part, place)));
        });
    }

    /** The column that a condition is about, if it is one only. */
    private static Stream<Column> column(Condition condition) {
        if (condition instanceof Condition.AllOf all) {
            List<Column> columns =
                    all.parts().stream().flatMap(Tautology::column).distinct().toList();
            boolean complete =
                    all.parts().stream().allMatch(part -> column(part).findAny().isPresent());
            return columns.stream().filter(only -> complete && columns.size() == 1);
        }
        if (condition instanceof Condition.Compares compares) {
            return Stream.of(compares.column());
        }
        if (condition instanceof Condition.Among among) {
            return among.columns().stream().filter(only -> among.columns().size() == 1);
        }
        if (condition instanceof Condition.Like like) {
            return Stream.of(like.column());
        }
        if (condition instanceof Condition.IsNull isNull) {
            return Stream.of(isNull.column());
        }
        return condition instanceof Condition.Not not ? column(not.part()) : Stream.of();
    }

    /** Where a value may lie: before another one (below 0), on it (0) or after it. */
    private record Place(Object value, int side) {
        int comparedWith(Object other) {
            int order = compare(value, other);
            return order == 0 ? side : order;
        }
    }

    /**
     * The places where the conditions are to be tried. What they say changes only at the values that they name, so one
     * trial on each, and one on each side of it, is enough.
     */
    private static Stream<Place> places(List<Condition> parts) {
        List<Object> named = parts.stream().flatMap(Tautology::values).toList();
        if (named.stream().anyMatch(Boolean.class::isInstance)) {
            return Stream.of(new Place(true, 0), new Place(false, 0));
        }
        return named.isEmpty()
                ? Stream.of(new Place("", 0))
                : named.stream()
                        .flatMap(value -> Stream.of(new Place(value, -1), new Place(value, 0), new Place(value, 1)));
    }

    private static Stream<Object> values(Condition condition) {
        if (condition instanceof Condition.AllOf all) {
            return all.parts().stream().flatMap(Tautology::values);
        }
        if (condition instanceof Condition.Compares compares) {
            return Stream.of(compares.value());
        }
        if (condition instanceof Condition.Among among) {
            return among.keys().stream().map(key -> key.get(0));
        }
        return condition instanceof Condition.Not not ? values(not.part()) : Stream.of();
    }

    private static boolean holds(Condition part, Place place) {
        if (part instanceof Condition.AllOf all) {
            return all.parts().stream().allMatch(each -> holds(each, place));
        }
        if (part instanceof Condition.Compares compares) {
            return compares.comparison().holds(place.comparedWith(compares.value()));
        }
        if (part instanceof Condition.Among) {
            return values(part).anyMatch(value -> place.comparedWith(value) == 0);
        }
        if (part instanceof Condition.Like like) {
            return !like.pattern().isEmpty() && like.pattern().chars().allMatch(next -> next == '%');
        }
        if (part instanceof Condition.Not not && not.part() instanceof Condition.Among among) {
            return !holds(among, place);
        }
        return part instanceof Condition.Not not && not.part() instanceof Condition.IsNull;
    }

    @SuppressWarnings("unchecked") // a class that is comparable is comparable to itself
    private static int compare(Object one, Object other) {
        return one instanceof Comparable<?> comparable && one.getClass() == other.getClass()
                ? ((Comparable<Object>) comparable).compareTo(other)
                : one.toString().compareTo(other.toString());
    }
}
