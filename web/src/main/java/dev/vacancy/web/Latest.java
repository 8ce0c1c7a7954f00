package dev.vacancy.web;

import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.ToLongFunction;

/** What came last, as long as it isn't too many, nor too large together. */
final class Latest<K, V> {
    private final Map<K, V> values = new LinkedHashMap<>();
    private final int most;
    private final long largest;
    private final ToLongFunction<V> size;
    private long held;

    Latest(int most, long largest, ToLongFunction<V> size) {
        this.most = most;
        this.largest = largest;
        this.size = size;
    }

    /** Keeps one more. It stays for now however large it is. */
    synchronized void put(K key, V value) {
        take(values.remove(key));
        values.put(key, value);
        held += size.applyAsLong(value);
        Iterator<V> oldest = values.values().iterator();
        while (values.size() > 1 && (values.size() > most || held > largest)) {
            take(oldest.next());
            oldest.remove();
        }
    }

    synchronized Optional<V> get(K key) {
        return Optional.ofNullable(values.get(key));
    }

    private void take(V gone) {
        held -= gone == null ? 0 : size.applyAsLong(gone);
    }
}
