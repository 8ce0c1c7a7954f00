package dev.vacancy.criteria;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;

/**
 * A selection in terms of the catalog.
 *
 * @param table the table
 * @param keys the keys of the selected records, each once; whether the records are there isn't known yet
 * @param expected how many records there must be, if the caller said so
 * @param newParents the parents that take over children on links whose rule is to reassign them
 * @param skipBlocked whether records that others forbid to delete are left out, instead of failing the whole
 * @since 0.1
 */
public record SelectedKeys(
        Table table, List<Key> keys, OptionalLong expected, Map<Link, Key> newParents, boolean skipBlocked) {
    /** Keeps its own copies of the collections. */
    public SelectedKeys {
        keys = List.copyOf(keys);
        newParents = Map.copyOf(newParents);
    }
}
