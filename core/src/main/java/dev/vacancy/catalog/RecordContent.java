package dev.vacancy.catalog;

import dev.vacancy.internal.request.PlainValues;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

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
public record RecordContent(Table table, Key key, Optional<String> label, Map<String, @Nullable Object> values) {
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
    public @Nullable Object get(String column) {
        return values.get(table.column(column).name());
    }

    /**
     * Returns the same as far as whoever may not see its content may know of it: that it is there.
     *
     * @return the record with the columns of its key and without a label
     */
    public RecordContent keyOnly() {
        Map<String, Object> identity = new LinkedHashMap<>();
        key.columns().forEach(column -> identity.put(column.name(), values.get(column.name())));
        return new RecordContent(table, key, Optional.empty(), identity);
    }

    /**
     * Returns the values as JSON has them (RFC 8259): text, numbers, booleans, lists and nulls. Dates and times are text as in
     * ISO 8601, binary is hexadecimal digits, as in keys.
     *
     * @return the values by column
     */
    public Map<String, @Nullable Object> plainValues() {
        return PlainValues.of(values);
    }
}
