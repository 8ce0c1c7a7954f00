package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Predicate;

/**
 * What belongs to a record, beside what its key tells of.
 *
 * @param on whether children on a link belong to their parent
 * @param there the keys of the records that are there and belong to it, as the trail spells them, of tables that something links to
 * @param going picks the records of a table that are there and belong to it; empty of a table without any
 * @since 0.1
 */
public record Belonging(Predicate<Link> on, Map<Table, Set<String>> there, Function<Table, Optional<Condition>> going) {
    /** Nothing else. */
    public static final Belonging NONE = new Belonging(link -> false, Map.of(), table -> Optional.empty());

    /** Keeps its own copy of the map. */
    public Belonging {
        there = Map.copyOf(there);
    }
}
