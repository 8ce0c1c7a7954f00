package dev.vacancy.internal.store;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.store.SqlReading.Item;
import java.util.List;
import java.util.stream.Stream;

/**
 * What is read of a column, by the codec of its type.
 *
 * @param dialect the dialect of the database
 */
record SqlItems(Dialect dialect) {
    /** Reads columns such that the database knows their values when they are sent back. */
    List<Item> exact(List<Column> columns, String alias) {
        return columns.stream().map(column -> exact(column, alias)).toList();
    }

    Item exact(Column column, String alias) {
        return new Item(dialect.codec(column).exact(dialect.name(alias, column)), exactly(column));
    }

    SqlReading.Reader exactly(Column column) {
        return (row, index) -> dialect.codec(column).readExact(row, index);
    }

    /** Reads a column as people see it. */
    Item shown(Column column, String alias) {
        return new Item(
                dialect.codec(column).shown(dialect.name(alias, column)),
                (row, index) -> dialect.codec(column).read(row, index));
    }

    /** Reads some columns exactly, and then all as people see them. */
    List<Item> whole(Table table, List<Column> exactly, String alias) {
        return Stream.concat(
                        exact(exactly, alias).stream(), table.columns().stream().map(column -> shown(column, alias)))
                .toList();
    }
}
