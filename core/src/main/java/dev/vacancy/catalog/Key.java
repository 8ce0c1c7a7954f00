package dev.vacancy.catalog;

import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * What tells one record of a table from all others: the values of its identifying columns, in their order.
 *
 * @param columns the columns
 * @param values one value for each, none of them null
 * @since 0.1
 */
public record Key(List<Column> columns, List<Object> values) implements Comparable<Key> {
    /** Keeps its own copies of the lists. */
    public Key {
        columns = List.copyOf(columns);
        values = List.copyOf(values);
    }

    /**
     * Returns the key as a person writes it.
     *
     * @return the value alone, or {@code column=value,column=value} for a composite key
     */
    public String text() {
        return values.size() == 1
                ? String.valueOf(values.get(0))
                : IntStream.range(0, values.size())
                        .mapToObj(i -> columns.get(i).name() + "=" + values.get(i))
                        .collect(Collectors.joining(","));
    }

    /**
     * Returns this key in the form in which two spellings of one key are equal: 1.50 and 1.5, padded and unpadded text
     * of a fixed-width column, upper and lower case where the type ignores case.
     *
     * @return the comparable form
     */
    public Key comparable() {
        return new Key(
                columns,
                IntStream.range(0, values.size())
                        .mapToObj(i -> ColumnValues.comparable(columns.get(i), values.get(i)))
                        .toList());
    }

    /** Orders keys of one table value by value, as the values' Java type does; text by its Unicode code units. */
    @Override
    public int compareTo(Key other) {
        for (int i = 0; i < values.size(); i++) {
            int byValue = compare(values.get(i), other.values.get(i));
            if (byValue != 0) {
                return byValue;
            }
        }
        return 0;
    }

    @SuppressWarnings("unchecked") // a class that is comparable is comparable to itself
    private static int compare(Object one, Object other) {
        return one instanceof Comparable<?> comparable && one.getClass() == other.getClass()
                ? ((Comparable<Object>) comparable).compareTo(other)
                : one.toString().compareTo(other.toString());
    }

    @Override
    public String toString() {
        return text();
    }
}
