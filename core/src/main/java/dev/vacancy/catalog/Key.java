package dev.vacancy.catalog;

import dev.vacancy.internal.catalog.RecordKey;
import java.util.List;

/**
 * What tells one record of a table from all others: the values of its identifying columns, in their order.
 *
 * @since 0.1
 */
public sealed interface Key extends Comparable<Key> permits RecordKey {
    /** {@return the columns} */
    List<Column> columns();

    /** {@return one value for each, none of them null} */
    List<Object> values();

    /**
     * Returns the key as a person writes it.
     *
     * @return the value alone, or {@code column=value,column=value} for a composite key
     */
    String text();

    /**
     * Returns each value as a person writes it.
     *
     * @return a text for each column, in their order
     */
    List<String> texts();
}
