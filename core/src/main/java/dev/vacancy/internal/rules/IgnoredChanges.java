package dev.vacancy.internal.rules;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import java.util.Collections;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/**
 * What never stands still, and is left out of fingerprints: an approval would be stale before anybody could use it.
 *
 * @param tables tables whose records come and go all the time, such as those of a sensor
 * @param columns columns that change all the time, by their tables
 * @since 0.1
 */
public record IgnoredChanges(Set<Table> tables, Map<Table, Set<Column>> columns) {
    /** Keeps its own copies. */
    public IgnoredChanges {
        tables = Set.copyOf(tables);
        columns = Map.copyOf(columns);
    }

    /**
     * Tells whether the number of a table's records never stands still.
     *
     * @param table the table
     * @return true if it drifts
     */
    public boolean ignores(Table table) {
        return tables.contains(table);
    }

    /**
     * Tells whether what a column holds never stands still.
     *
     * @param table the column's table
     * @param column the column
     * @return true if it drifts, alone or with its table
     */
    public boolean ignores(Table table, Column column) {
        return ignores(table) || columns.getOrDefault(table, Set.of()).contains(column);
    }

    /**
     * Names them as the rules do.
     *
     * @return tables, and columns such as {@code hive.last_reading_at}
     */
    public Set<String> places() {
        Set<String> places = new TreeSet<>();
        tables.forEach(table -> places.add(table.name()));
        columns.forEach((table, some) -> some.forEach(column -> places.add(table + "." + column)));
        return Collections.unmodifiableSet(places);
    }
}
