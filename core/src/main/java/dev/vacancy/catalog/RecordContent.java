package dev.vacancy.catalog;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * A whole record: the value of each column, as it was read.
 *
 * <p>Dates and times are {@code java.time} values, large text is a string, binary a read-only
 * {@link java.nio.ByteBuffer}, an array a list; types that only the database knows come as their text.
 *
 * @param table the table it belongs to
 * @param key what identifies it
 * @param label what a person recognises it by, or empty
 * @param values the value of each column by its name as people write it, in the table's order; may be null
 * @since 0.1
 */
public record RecordContent(Table table, Key key, Optional<String> label, Map<String, Object> values) {
    /** Keeps its own copy of the values. */
    public RecordContent {
        values = Collections.unmodifiableMap(new LinkedHashMap<>(values));
    }

    /**
     * Returns the value of one column.
     *
     * @param column the column's name, in any case unless two columns differ by case alone
     * @return the value, or null
     */
    public Object get(String column) {
        return values.get(table.column(column).name());
    }
}
