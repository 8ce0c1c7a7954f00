package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.internal.catalog.KeyList;
import dev.vacancy.internal.catalog.PackedRows;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.catalog.RowPlaces;
import java.util.BitSet;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/** Keys that were asked for, and which of them have been found, in a few bytes for each. */
final class RequestedKeys {
    private final KeyList keys;
    private final RowPlaces places;
    private final BitSet matched = new BitSet();
    /** What has been found, as the records have it, once one has it otherwise than it was asked for. */
    private Optional<PackedRows> spelled = Optional.empty();

    /**
     * Has found none yet.
     *
     * @param keys keys of one table that a record can have, at least one
     */
    RequestedKeys(List<Key> keys) {
        this.keys = KeyList.of(keys);
        List<Column> columns = this.keys.get(0).columns();
        this.places = new RowPlaces(this.keys.values(), values -> comparable(new RecordKey(columns, values)));
    }

    private static List<Object> comparable(Key key) {
        return RecordKey.of(key).comparable().values();
    }

    /** Notes that a record has been found. Returns false for one that nobody asked for, or that had been found before. */
    boolean find(Key key) {
        int place = places.of(comparable(key));
        if (place < 0 || matched.get(place)) {
            return false;
        }
        if (spelled.isEmpty() && !keys.get(place).equals(key)) {
            spelled = Optional.of(asked());
        }
        matched.set(place);
        spelled.ifPresent(values -> values.append(key.values()));
        return true;
    }

    /** Whether the record with a key, however that is spelled, has been found. */
    boolean isFound(Key key) {
        int place = places.of(comparable(key));
        return place >= 0 && matched.get(place);
    }

    /**
     * Returns the keys that were found, as the records have them.
     *
     * @param besides other keys to go with them
     * @return the values of each
     */
    PackedRows found(Collection<Key> besides) {
        if (besides.isEmpty() && spelled.isEmpty() && matched.cardinality() == keys.size()) {
            return keys.values();
        }
        PackedRows values = spelled.orElseGet(this::asked);
        besides.forEach(key -> values.append(key.values()));
        return values;
    }

    private PackedRows asked() {
        PackedRows values = new PackedRows();
        matched.stream().forEach(place -> values.append(keys.values().get(place)));
        return values;
    }
}
