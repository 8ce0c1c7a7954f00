package dev.vacancy.catalog;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.catalog.CatalogTable;
import java.util.List;

/**
 * A table with its columns and keys.
 *
 * @since 0.1
 */
public sealed interface Table permits CatalogTable {
    /** {@return the name as people write it; with its schema in front when that isn't the connection's own} */
    String name();

    /** {@return the schema as stored} */
    String schema();

    /** {@return the name as the database stores it} */
    String storedName();

    /** {@return all columns in their order} */
    List<Column> columns();

    /** {@return the columns of the primary key in the key's order, empty without one} */
    List<Column> primaryKey();

    /** {@return the columns of each other unique key} */
    List<List<Column>> uniqueKeys();

    /**
     * Returns the columns that tell one record from another: the primary key, else the first unique key that allows no
     * null.
     *
     * @return the columns, empty when the table has neither
     */
    List<Column> identity();

    /**
     * Finds a column by the name that a person gives.
     *
     * @param given the name, in any case unless two columns differ by case alone
     * @return the column
     * @throws InvalidRequestException when there is none, with the nearest name
     */
    Column column(String given);
}
