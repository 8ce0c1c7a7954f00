package dev.vacancy.internal.request;

import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.internal.catalog.PackedRows;
import java.util.AbstractList;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.RandomAccess;

/** Keys as they were given in the order of their columns, packed. */
public final class GivenKeyList extends AbstractList<KeyGiven> implements RandomAccess {
    private final PackedRows values;

    private GivenKeyList(PackedRows values) {
        this.values = values;
    }

    /**
     * Takes keys as an application gives them.
     *
     * @param keys for each record its value, a list of values or a map by column names
     * @return the keys in their order
     */
    public static List<KeyGiven> of(Collection<?> keys) {
        if (keys.stream().anyMatch(Map.class::isInstance)) {
            List<KeyGiven> given = new ArrayList<>(keys.size());
            keys.forEach(key -> given.add(of(key)));
            return Collections.unmodifiableList(given);
        }
        PackedRows values = new PackedRows();
        keys.forEach(key -> values.append(values(key)));
        return new GivenKeyList(values);
    }

    @SuppressWarnings("unchecked") // names are checked against the columns when the selection meets a catalog
    private static KeyGiven of(Object key) {
        return key instanceof Map<?, ?> byName
                ? new KeyGiven.ByName((Map<String, ?>) byName)
                : new KeyGiven.InOrder(values(key));
    }

    private static List<?> values(Object key) {
        return key instanceof List<?> values ? values : Collections.singletonList(key);
    }

    @Override
    public KeyGiven get(int place) {
        return new KeyGiven.InOrder(values.get(place));
    }

    @Override
    public int size() {
        return values.size();
    }
}
