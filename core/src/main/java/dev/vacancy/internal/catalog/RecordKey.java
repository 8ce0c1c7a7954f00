package dev.vacancy.internal.catalog;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import java.nio.ByteBuffer;
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
public record RecordKey(List<Column> columns, List<Object> values) implements Key {
    /** Keeps its own copies of the lists. */
    public RecordKey {
        columns = List.copyOf(columns);
        if (hasNull(values)) {
            throw new InvalidRequestException(
                    FailureCode.KEY_WITHOUT_VALUE,
                    "A record has no value in a column of its key ("
                            + columns.stream().map(Column::name).collect(Collectors.joining(", "))
                            + "), so it can't be told from others.",
                    "Give it a value there; where the database allows none, declare the columns NOT NULL.");
        }
        values = List.copyOf(values);
    }

    /** Each key passes here; a stream would take longer than all else. */
    private static boolean hasNull(List<Object> values) {
        for (Object value : values) {
            if (value == null) {
                return true;
            }
        }
        return false;
    }

    @Override
    public String text() {
        return values.size() == 1
                ? text(0)
                : IntStream.range(0, values.size())
                        .mapToObj(i -> columns.get(i).name() + "=" + text(i))
                        .collect(Collectors.joining(","));
    }

    @Override
    public List<String> texts() {
        return IntStream.range(0, values.size()).mapToObj(this::text).toList();
    }

    /**
     * Returns each value in a form from which the same key is made again, also where a column holds 1 beside '1': whole
     * numbers, doubles, bytes and lists as they are, all else as text.
     *
     * @return a value for each column, in their order
     */
    public List<Object> storable() {
        return IntStream.range(0, values.size()).mapToObj(this::storable).toList();
    }

    private Object storable(int position) {
        Object value = values.get(position);
        if (value instanceof TypedText typed) {
            return List.of(typed.typed());
        }
        return isToldByItsType(value) ? value : text(position);
    }

    private static boolean isToldByItsType(Object value) {
        return value instanceof Integer
                || value instanceof Long
                || value instanceof Double
                || value instanceof ByteBuffer
                || value instanceof List<?>;
    }

    private String text(int position) {
        Object value = values.get(position);
        return ColumnType.of(columns.get(position)).keepsSpelling() && !(value instanceof ByteBuffer)
                ? ColumnType.spelling(value)
                : GivenValues.text(value);
    }

    /**
     * Returns this key in the form in which two spellings of one key are equal: 1.50 and 1.5, padded and unpadded text
     * of a fixed-width column, upper and lower case where the type ignores case.
     *
     * @return the comparable form
     */
    public RecordKey comparable() {
        return new RecordKey(
                columns,
                IntStream.range(0, values.size())
                        .mapToObj(i -> HeldValues.comparable(ColumnType.of(columns.get(i)), values.get(i)))
                        .toList());
    }

    /**
     * Tells whether a record can have this key: whether each column holds its value without rounding or cutting it.
     *
     * @return false if no record can
     */
    public boolean isPossible() {
        return IntStream.range(0, values.size())
                .allMatch(i -> HeldValues.holds(ColumnType.of(columns.get(i)), values.get(i)));
    }

    /**
     * Tells whether only the database knows which spellings of this key mean the same record.
     *
     * @return true if one of the columns is neither a number, nor text, nor binary
     */
    public boolean isComparedByDatabase() {
        return columns.stream().anyMatch(column -> !HeldValues.isComparedInJava(ColumnType.of(column)));
    }

    /** Orders keys of one table value by value, as the values' Java type does; text by its Unicode code units. */
    @Override
    public int compareTo(Key other) {
        for (int i = 0; i < values.size(); i++) {
            int byValue = compare(values.get(i), other.values().get(i));
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

    /** The columns are the same wherever keys are compared; to hash them too would take longer than all else. */
    @Override
    public int hashCode() {
        return values.hashCode();
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof RecordKey key && values.equals(key.values) && columns.equals(key.columns);
    }

    @Override
    public String toString() {
        return text();
    }

    /**
     * Returns the engine's side of what an application sees.
     *
     * @param seen what the application sees
     * @return the same
     */
    public static RecordKey of(Key seen) {
        return (RecordKey) seen;
    }
}
