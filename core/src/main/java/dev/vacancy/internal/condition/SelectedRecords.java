package dev.vacancy.internal.condition;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Criteria;
import dev.vacancy.criteria.Selection;
import dev.vacancy.failure.InvalidRequestException;
import java.time.Clock;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;

/**
 * A selection in terms of the catalog.
 *
 * @param table the table
 * @param picked which of its records
 * @param expected how many records there must be, if the caller said so
 * @param newParents the parents that take over children on links whose rule is to reassign them
 * @param skipBlocked whether records that others forbid to delete are left out, instead of failing the whole
 * @since 0.1
 */
public record SelectedRecords(
        Table table, Picked picked, OptionalLong expected, Map<Link, Key> newParents, boolean skipBlocked) {
    /** Keeps its own copy of the map. */
    public SelectedRecords {
        newParents = Map.copyOf(newParents);
    }

    /**
     * Finds the table of a selection, and turns keys, columns and values into its types. A key that was given twice counts
     * once.
     *
     * @param selection what was asked for
     * @param catalog what the database holds
     * @param clock tells the moment that relative times are told from
     * @return the selection in terms of the catalog
     * @throws InvalidRequestException when the table is unknown or has no key, a key has another shape or type, or a
     *     criteria names what isn't there or would pick everything
     */
    public static SelectedRecords of(Selection selection, Catalog catalog, Clock clock) {
        Table table = catalog.table(selection.table());
        table.requireIdentity();
        Map<Link, Key> newParents = new LinkedHashMap<>();
        selection.newParents().forEach((where, key) -> {
            Link link = catalog.link(where);
            newParents.put(link, key.resolve(link.parent()));
        });
        Picked picked = selection
                .criteria()
                .<Picked>map(criteria -> new ByCriteria(criteria, Resolution.of(criteria, table, catalog, clock)))
                .orElseGet(() -> new ByKey(selection.keys().stream()
                        .map(key -> key.resolve(table))
                        .distinct()
                        .toList()));
        return new SelectedRecords(table, picked, selection.expected(), newParents, selection.isSkippingBlocked());
    }

    /** What the selected records are picked by. */
    public sealed interface Picked {
        /**
         * Returns what picks the records.
         *
         * @return the condition; none if no key was given, which selects nothing
         */
        Optional<Condition> condition();
    }

    /**
     * Records picked one by one.
     *
     * @param keys their keys, each once; whether the records are there isn't known yet
     */
    public record ByKey(List<Key> keys) implements Picked {
        /** Keeps its own copy of the list. */
        public ByKey {
            keys = List.copyOf(keys);
        }

        @Override
        public Optional<Condition> condition() {
            return keys.stream()
                    .findFirst()
                    .map(key -> new Condition.Among(
                            key.columns(), keys.stream().map(Key::values).toList()));
        }
    }

    /**
     * Records picked by what they hold.
     *
     * @param criteria what was asked for
     * @param wanted the same in terms of the catalog, with the moments that it names
     */
    public record ByCriteria(Criteria criteria, Condition wanted) implements Picked {
        @Override
        public Optional<Condition> condition() {
            return Optional.of(wanted);
        }
    }

    /**
     * Returns the selected keys.
     *
     * @return the keys in the order in which they were given; none if the records are picked by criteria
     */
    public List<Key> keys() {
        return picked instanceof ByKey byKey ? byKey.keys : List.of();
    }

    /**
     * Returns the criteria that picks the records.
     *
     * @return the criteria; nothing if the records are picked by key
     */
    public Optional<Criteria> criteria() {
        return picked instanceof ByCriteria byCriteria ? Optional.of(byCriteria.criteria) : Optional.empty();
    }
}
