package dev.vacancy.internal.condition;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.ColumnType;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * Recognises conditions that every record meets, by trying to find a record that doesn't: it goes through what the columns
 * may hold, as far as the condition can tell it apart. It reads the condition alone, not the records: {@code hive_id > 0} is
 * left standing, even where no record has another key.
 */
final class Tautology {
    private static final int MOST_TRIALS = 1_000_000;

    private final Condition whole;
    private final Map<Place, List<Object>> values = new HashMap<>();
    private final Map<Place, Object> assigned = new HashMap<>();
    private final IdentityHashMap<Condition.OneOf, Set<Object>> members = new IdentityHashMap<>();
    private Place open;
    private int trials;

    private Tautology(Condition whole) {
        this.whole = whole;
    }

    static boolean is(Condition condition) {
        Tautology tautology = new Tautology(condition);
        tautology.collect(condition, List.of());
        return tautology.holdsFromHere() && tautology.trials < MOST_TRIALS;
    }

    // The two methods that a record has by itself are made at run time, and every start would wait for that.

    /** Something that differs from record to record. */
    private sealed interface Place {
        /** What a column of the record, or of a parent on a way of links, holds. */
        record Content(List<Link> way, Column column) implements Place {
            @Override
            public boolean equals(Object other) {
                return other instanceof Content content && column.equals(content.column) && way.equals(content.way);
            }

            @Override
            public int hashCode() {
                return 31 * way.hashCode() + column.hashCode();
            }
        }

        /** Whether the record has that parent. */
        record Parent(List<Link> way) implements Place {}

        /** Whether the column is like a pattern. */
        record Likeness(Content content, String pattern) implements Place {}
    }

    /** A value, or one just before or just behind it. */
    private record Near(Object value, int side) {
        int comparedWith(Object other) {
            int order = Ordered.compare(value, other);
            return order == 0 ? side : order;
        }

        @Override
        public boolean equals(Object other) {
            return other instanceof Near near && side == near.side && value.equals(near.value);
        }

        @Override
        public int hashCode() {
            return 31 * value.hashCode() + side;
        }
    }

    private enum Truth {
        TRUE,
        FALSE,
        UNKNOWN,
        /** Depends on what hasn't been assigned yet. */
        OPEN;

        Truth negated() {
            return this == TRUE ? FALSE : this == FALSE ? TRUE : this;
        }

        static Truth of(boolean truth) {
            return truth ? TRUE : FALSE;
        }
    }

    private enum Absence {
        NULL
    }

    private boolean holdsFromHere() {
        if (++trials >= MOST_TRIALS) {
            return false;
        }
        open = null;
        Truth truth = truth(whole, List.of());
        if (truth != Truth.OPEN) {
            return truth == Truth.TRUE;
        }
        Place next = open;
        for (Object choice : choices(next)) {
            assigned.put(next, choice);
            boolean holds = holdsFromHere();
            assigned.remove(next);
            if (!holds) {
                return false;
            }
        }
        return true;
    }

    private void collect(Condition condition, List<Link> way) {
        if (condition instanceof Condition.AllOf all) {
            all.parts().forEach(part -> collect(part, way));
        } else if (condition instanceof Condition.AnyOf any) {
            any.parts().forEach(part -> collect(part, way));
        } else if (condition instanceof Condition.Not not) {
            collect(not.part(), way);
        } else if (condition instanceof Condition.Except except) {
            collect(except.part(), way);
        } else if (condition instanceof Condition.OfParent parent) {
            collect(parent.condition(), further(way, parent.link()));
        } else if (condition instanceof Condition.Compares compares) {
            named(way, compares.column()).add(compares.value());
        } else if (condition instanceof Condition.OneOf oneOf) {
            named(way, oneOf.column()).addAll(oneOf.values());
        }
    }

    private List<Object> named(List<Link> way, Column column) {
        return values.computeIfAbsent(new Place.Content(way, column), missing -> new ArrayList<>());
    }

    private static List<Link> further(List<Link> way, Link link) {
        List<Link> longer = new ArrayList<>(way);
        longer.add(link);
        return List.copyOf(longer);
    }

    private List<Object> choices(Place place) {
        if (!(place instanceof Place.Content content)) {
            return List.of(false, true);
        }
        List<Object> choices = new ArrayList<>();
        if (content.column().nullable()) {
            choices.add(Absence.NULL);
        }
        List<Object> named = values.getOrDefault(content, List.of());
        if (named.stream().anyMatch(Boolean.class::isInstance)) {
            choices.addAll(List.of(new Near(true, 0), new Near(false, 0)));
        } else if (named.isEmpty()) {
            choices.add(new Near("", 0));
        } else {
            named.stream()
                    .flatMap(value -> around(content.column(), value))
                    .distinct()
                    .forEach(choices::add);
        }
        return choices;
    }

    /** What a condition says changes only at the values that it names, so one trial on each side of them is enough. */
    private static Stream<Near> around(Column column, Object value) {
        if (!ColumnType.of(column).isInteger() || !(value instanceof Number)) {
            return Stream.of(new Near(value, -1), new Near(value, 0), new Near(value, 1));
        }
        // Between 1 and 2 there is no whole number, and none before 0 where there is no sign.
        return Ordered.neighbours(value)
                .filter(number -> number.signum() >= 0 || !ColumnType.of(column).isUnsigned())
                .map(number -> new Near(number, 0));
    }

    private Truth truth(Condition condition, List<Link> way) {
        if (condition instanceof Condition.AllOf all) {
            return any(all.parts(), way, true).negated();
        }
        if (condition instanceof Condition.AnyOf any) {
            return any(any.parts(), way, false);
        }
        if (condition instanceof Condition.Not not) {
            return truth(not.part(), way).negated();
        }
        if (condition instanceof Condition.Except except) {
            Truth part = truth(except.part(), way);
            return part == Truth.OPEN ? part : Truth.of(part != Truth.TRUE);
        }
        if (condition instanceof Condition.OfParent parent) {
            return ofParent(parent, further(way, parent.link()));
        }
        return column(condition) == null
                ? Truth.UNKNOWN
                : ofColumn(condition, new Place.Content(way, column(condition)));
    }

    private Truth any(List<Condition> parts, List<Link> way, boolean negated) {
        Truth result = Truth.FALSE;
        for (Condition part : parts) {
            Truth truth = negated ? truth(part, way).negated() : truth(part, way);
            if (truth == Truth.TRUE) {
                return truth;
            }
            result = result == Truth.OPEN || truth == Truth.OPEN
                    ? Truth.OPEN
                    : result == Truth.UNKNOWN || truth == Truth.UNKNOWN ? Truth.UNKNOWN : Truth.FALSE;
        }
        return result;
    }

    private Truth ofParent(Condition.OfParent parent, List<Link> way) {
        Link link = parent.link();
        if (!link.declared()
                || !CatalogLink.of(link).enforced()
                || link.childColumns().stream().anyMatch(Column::nullable)) {
            Object there = assigned(new Place.Parent(way));
            if (there == null) {
                return Truth.OPEN;
            }
            if (there.equals(false)) {
                return Truth.UNKNOWN;
            }
        }
        return truth(parent.condition(), way);
    }

    private static Column column(Condition condition) {
        if (condition instanceof Condition.Compares compares) {
            return compares.column();
        }
        if (condition instanceof Condition.OneOf oneOf) {
            return oneOf.column();
        }
        if (condition instanceof Condition.Like like) {
            return like.column();
        }
        return condition instanceof Condition.IsNull isNull ? isNull.column() : null;
    }

    private Truth ofColumn(Condition condition, Place.Content place) {
        Object content = assigned(place);
        if (content == null) {
            return Truth.OPEN;
        }
        if (condition instanceof Condition.IsNull) {
            return Truth.of(content == Absence.NULL);
        }
        if (content == Absence.NULL) {
            return Truth.UNKNOWN;
        }
        if (condition instanceof Condition.Like like) {
            return likeness(like.pattern(), place);
        }
        Near near = (Near) content;
        return condition instanceof Condition.Compares compares
                ? Truth.of(compares.comparison().holds(near.comparedWith(compares.value())))
                : Truth.of(
                        near.side() == 0 && members((Condition.OneOf) condition).contains(Ordered.plain(near.value())));
    }

    private Set<Object> members(Condition.OneOf oneOf) {
        return members.computeIfAbsent(
                oneOf, all -> all.values().stream().map(Ordered::plain).collect(Collectors.toSet()));
    }

    private Truth likeness(String pattern, Place.Content place) {
        if (!pattern.isEmpty() && pattern.chars().allMatch(next -> next == '%')) {
            return Truth.TRUE;
        }
        Object alike = assigned(new Place.Likeness(place, pattern));
        return alike == null ? Truth.OPEN : Truth.of(alike.equals(true));
    }

    private Object assigned(Place place) {
        Object value = assigned.get(place);
        if (value == null && open == null) {
            open = place;
        }
        return value;
    }
}
