package dev.vacancy.internal.catalog;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import java.util.AbstractList;
import java.util.List;
import java.util.RandomAccess;

/** Keys of one table, packed; each is made anew when it is read. */
public final class KeyList extends AbstractList<Key> implements RandomAccess {
    private final List<Column> columns;
    private final PackedRows values;

    /**
     * Shows rows as keys.
     *
     * @param columns the columns of the keys
     * @param values the values of each, none of them null
     */
    public KeyList(List<Column> columns, PackedRows values) {
        this.columns = List.copyOf(columns);
        this.values = values;
    }

    /**
     * Packs keys.
     *
     * @param keys keys of one table, at least one
     * @return the same keys; the very list if it is packed already
     */
    public static KeyList of(List<Key> keys) {
        if (keys instanceof KeyList packed) {
            return packed;
        }
        PackedRows values = new PackedRows();
        keys.forEach(key -> values.append(key.values()));
        return new KeyList(keys.get(0).columns(), values);
    }

    /**
     * Keeps its own copy of a list, unless nobody can change it.
     *
     * @param keys the keys
     * @return the same keys
     */
    public static List<Key> copyOf(List<Key> keys) {
        return keys instanceof KeyList ? keys : List.copyOf(keys);
    }

    /**
     * Returns the values alone.
     *
     * @return the values of each key
     */
    public PackedRows values() {
        return values;
    }

    @Override
    public Key get(int place) {
        return new RecordKey(columns, values.get(place));
    }

    @Override
    public int size() {
        return values.size();
    }
}
