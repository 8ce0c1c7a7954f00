package dev.vacancy.internal.dialect;

import dev.vacancy.internal.catalog.ColumnType;
import java.nio.ByteBuffer;
import java.util.List;
import java.util.stream.Stream;

/**
 * The values that a list of columns may have: a set of keys that travels to the database as one bound value a column,
 * however many keys it holds.
 *
 * @param types the type of each column
 * @param tuples the keys; each has one value for each type, which a column of that type holds without loss
 * @since 0.1
 */
public record KeySet(List<ColumnType> types, List<? extends List<?>> tuples) {
    /**
     * Returns the values of one column, one for each key.
     *
     * @param position the column's position, from 0
     * @return a new array in the order of the keys
     */
    public Object[] column(int position) {
        return values(position).toArray();
    }

    /**
     * Reads the values of one column one by one, for whoever needn't have all of them at once.
     *
     * @param position the column's position, from 0
     * @return the values in the order of the keys
     */
    Stream<Object> values(int position) {
        return tuples.stream().map(tuple -> toDriver(tuple.get(position)));
    }

    static Object toDriver(Object value) {
        if (value instanceof ByteBuffer buffer) {
            byte[] bytes = new byte[buffer.remaining()];
            buffer.duplicate().get(bytes);
            return bytes;
        }
        if (value instanceof List<?> elements) {
            return elements.stream().map(KeySet::toDriver).toArray();
        }
        return value;
    }
}
