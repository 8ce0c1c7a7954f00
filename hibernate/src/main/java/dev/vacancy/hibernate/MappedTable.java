package dev.vacancy.hibernate;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * A table as the mapping names it.
 *
 * @param schema its schema; null for the connection's own
 * @param name its name
 */
record MappedTable(@Nullable String schema, String name) {
    /** The table in the database, by a name that fits in any case, unless one fits exactly. */
    Optional<Table> in(Catalog catalog) {
        List<Table> fitting = catalog.tables().stream().filter(this::fits).toList();
        return fitting.stream()
                .filter(table -> table.storedName().equals(name))
                .findFirst()
                .or(() -> fitting.stream().findFirst());
    }

    private boolean fits(Table table) {
        // A table of the connection's own schema is named without it.
        boolean here = schema == null
                ? table.name().equalsIgnoreCase(table.storedName())
                : table.schema().equalsIgnoreCase(schema);
        return here && table.storedName().equalsIgnoreCase(name);
    }

    /** Columns of the table in the database; empty if one of them isn't there. */
    static Optional<List<Column>> columns(Table table, List<String> names) {
        List<Column> found =
                names.stream().flatMap(name -> column(table, name).stream()).toList();
        return found.size() == names.size() ? Optional.of(found) : Optional.empty();
    }

    private static Optional<Column> column(Table table, String name) {
        return table.columns().stream()
                .filter(column -> column.storedName().equalsIgnoreCase(name))
                .findFirst();
    }

    /** A name as the mapper writes it, without its quotes. */
    static String bare(String name) {
        return name.replaceAll("[\"`\\[\\]]", "");
    }

    @Override
    public String toString() {
        return schema == null ? name : schema + "." + name;
    }
}
