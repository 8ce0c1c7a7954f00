package dev.vacancy.catalog;

import java.util.List;
import java.util.Map;

/**
 * The key of a record as a caller gives it, before the table is known: values of any type, text among them.
 *
 * @since 0.1
 */
public sealed interface KeyGiven {
    /**
     * Values in the order of the key's columns, or one list of them.
     *
     * @param values the values
     */
    record InOrder(List<?> values) implements KeyGiven {}

    /**
     * Values by the names of the key's columns.
     *
     * @param values the values
     */
    record ByName(Map<String, ?> values) implements KeyGiven {}
}
