package dev.vacancy.internal.catalog;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;

/**
 * Turns what a caller gives into a value of a column's type.
 *
 * @since 0.1
 */
@FunctionalInterface
public interface Conversion {
    /**
     * Converts a value.
     *
     * @param table the table
     * @param column a column of it
     * @param given the value, of the column's type or as text
     * @return a value of the column's type; nothing is trimmed or rounded
     * @throws InvalidRequestException when it is null or has another type
     */
    Object convert(Table table, Column column, Object given);

    /**
     * Tells whether a value may be a document, with names of its own.
     *
     * @return false where names that are given with a key are those of its columns
     */
    default boolean takesDocuments() {
        return false;
    }

    /** {@return the conversion by the column's type in SQL} */
    static Conversion bySqlType() {
        return ColumnValues::convert;
    }
}
