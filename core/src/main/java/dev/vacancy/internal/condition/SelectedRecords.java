package dev.vacancy.internal.condition;

import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Selection;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.catalog.GivenKeys;
import dev.vacancy.internal.catalog.KeyList;
import java.time.Clock;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;

/**
 * A selection in terms of the catalog.
 *
 * @param table the table
 * @param picked which of its records
 * @param expected how many records there must be, if the caller said so
 * @param most how many records there may be, if the caller said so
 * @param newParents the parents that take over children on links whose rule is to reassign them
 * @param skipBlocked whether records that others forbid to delete are left out, instead of failing the whole
 * @param purging whether only soft-deleted records are meant
 * @since 0.1
 */
public record SelectedRecords(
        Table table,
        Picked picked,
        OptionalLong expected,
        OptionalLong most,
        Map<Link, Key> newParents,
        boolean skipBlocked,
        boolean purging) {
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
    public static SelectedRecords of(Selection selection, DatabaseCatalog catalog, Clock clock) {
        Table table = catalog.table(selection.table());
        CatalogTable.of(table).requireIdentity();
        Map<Link, Key> newParents = new LinkedHashMap<>();
        selection.newParents().forEach((where, key) -> {
            Link link = catalog.link(where);
            newParents.put(link, GivenKeys.resolve(key, link.parent()));
        });
        return new SelectedRecords(
                table,
                picked(selection, table, catalog, clock),
                selection.expected(),
                selection.most(),
                newParents,
                selection.isSkippingBlocked(),
                selection.isPurge());
    }

    private static Picked picked(Selection selection, Table table, DatabaseCatalog catalog, Clock clock) {
        if (selection.isOfAllRecords()) {
            return new All();
        }
        if (selection.criteria().isPresent()) {
            Criteria criteria = selection.criteria().get();
            return new ByCriteria(criteria, Resolution.of(criteria, table, catalog, clock));
        }
        if (selection.keys().isEmpty()) {
            throw new InvalidRequestException(
                            FailureCode.NOTHING_SELECTED,
                            "No key was given for the records of " + table + "; that never means all of them.",
                            "Give the keys of the records to delete.")
                    .about("table", table);
        }
        return new ByKey(GivenKeys.distinct(selection.keys(), table));
    }

    /** What the selected records are picked by. */
    public sealed interface Picked {
        /**
         * Returns what picks the records.
         *
         * @return the condition
         */
        Condition condition();
    }

    /**
     * Records picked one by one.
     *
     * @param keys their keys, at least one, each once; whether the records are there isn't known yet
     */
    public record ByKey(List<Key> keys) implements Picked {
        /** Keeps its own copy of the list. */
        public ByKey {
            keys = KeyList.copyOf(keys);
        }

        @Override
        public Condition condition() {
            return new Condition.Among(keys.get(0).columns(), KeyList.of(keys).values());
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
        public Condition condition() {
            return wanted;
        }
    }

    /** All records of the table. */
    public record All() implements Picked {
        @Override
        public Condition condition() {
            return new Condition.Any();
        }
    }

    /**
     * Returns the selected keys.
     *
     * @return the keys in the order in which they were given; none if the records are picked by something else
     */
    public List<Key> keys() {
        return picked instanceof ByKey byKey ? byKey.keys : List.of();
    }

    /**
     * Returns the same for some of the selected keys.
     *
     * @param keys the keys
     * @return the smaller selection
     */
    public SelectedRecords only(List<Key> keys) {
        return new SelectedRecords(table, new ByKey(keys), expected, most, newParents, skipBlocked, purging);
    }
}
