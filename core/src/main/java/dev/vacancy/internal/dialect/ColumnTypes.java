package dev.vacancy.internal.dialect;

import dev.vacancy.internal.catalog.ColumnType;

/**
 * Knows the types of a database's columns.
 *
 * @since 0.1
 */
@FunctionalInterface
public interface ColumnTypes {
    /**
     * Returns the type of a column.
     *
     * @param schema the table's schema as stored
     * @param table the table's name as stored
     * @param column the column's name as stored
     * @param reported the type as the driver's metadata tells it
     * @return the type
     */
    ColumnType of(String schema, String table, String column, ColumnType reported);
}
