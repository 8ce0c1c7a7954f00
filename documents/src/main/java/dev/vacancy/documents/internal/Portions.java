package dev.vacancy.documents.internal;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.condition.Condition;
import java.sql.Types;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/** Cuts a condition that lists more values than a message should hold. */
final class Portions {
    private Portions() {}

    /** Values, no more at a time than a message should hold. */
    static <T> List<List<T>> of(Collection<T> values) {
        return cut(List.copyOf(values), DocumentQuery.PORTION, some -> some);
    }

    /** Conditions of which each document that the given one picks meets one. */
    static List<Condition> of(Condition condition, int most) {
        List<Condition> parts = condition instanceof Condition.AllOf all ? all.parts() : List.of(condition);
        Optional<Condition> longest = parts.stream().max(Comparator.comparingInt(Portions::length));
        if (longest.isEmpty() || length(longest.get()) <= most) {
            return List.of(condition);
        }
        List<Condition> portions = new ArrayList<>();
        for (Condition portion : cut(longest.get(), most)) {
            portions.add(new Condition.AllOf(parts.stream()
                    .map(part -> part == longest.get() ? portion : part)
                    .toList()));
        }
        return portions;
    }

    private static int length(Condition condition) {
        if (condition instanceof Condition.Among among) {
            return among.keys().size();
        }
        if (condition instanceof Condition.Referring referring) {
            return referring.references().size();
        }
        return condition instanceof Condition.OneOf oneOf ? oneOf.values().size() : 0;
    }

    private static List<Condition> cut(Condition condition, int most) {
        if (condition instanceof Condition.Among among) {
            return cut(among.keys(), most, keys -> new Condition.Among(among.columns(), keys));
        }
        if (condition instanceof Condition.Referring referring) {
            return cut(referring.references(), most, some -> new Condition.Referring(referring.link(), some));
        }
        Condition.OneOf oneOf = (Condition.OneOf) condition;
        return cut(oneOf.values(), most, some -> new Condition.OneOf(oneOf.column(), some));
    }

    private static <T, P> List<P> cut(List<T> values, int most, Function<List<T>, P> portion) {
        List<P> portions = new ArrayList<>();
        for (int from = 0; from < values.size(); from += most) {
            portions.add(portion.apply(values.subList(from, Math.min(values.size(), from + most))));
        }
        return portions;
    }

    /** Whether a document may meet several portions. */
    static boolean mayRepeat(Condition condition) {
        if (condition instanceof Condition.AllOf all) {
            return all.parts().stream().anyMatch(Portions::mayRepeat);
        }
        if (condition instanceof Condition.Referring referring) {
            return referring.link().childColumns().stream().anyMatch(Portions::isSeveralTimes);
        }
        return condition instanceof Condition.OneOf oneOf && isSeveralTimes(oneOf.column());
    }

    /** Whether a document may have several values at a path. */
    static boolean isSeveralTimes(Column column) {
        return column.jdbcType() == Types.ARRAY;
    }
}
