package dev.vacancy.web;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;

/** What came last, as long as it isn't too many nor too large together, of all and of one person: nobody pushes out what others look at. */
final class RecentItems<K, V> {
    private final Map<K, Held<V>> values = new LinkedHashMap<>();
    private final Bounds all;
    private final Bounds ofOne;

    /**
     * How much is held.
     *
     * @param most how many
     * @param largest how large together, in bytes, roughly
     */
    record Bounds(int most, long largest) {}

    private record Held<V>(V value, String owner, long size) {}

    RecentItems(Bounds all, Bounds ofOne) {
        this.all = all;
        this.ofOne = ofOne;
    }

    /** Keeps one more. It stays for now however large it is. */
    synchronized void put(K key, V value, String owner, long size) {
        values.remove(key);
        values.put(key, new Held<>(value, owner, size));
        shrink(held -> held.owner().equals(owner), ofOne);
        shrink(held -> true, all);
    }

    private void shrink(Predicate<Held<V>> counted, Bounds bounds) {
        while (true) {
            long number = values.values().stream().filter(counted).count();
            long size = values.values().stream()
                    .filter(counted)
                    .mapToLong(Held::size)
                    .sum();
            Optional<K> oldest = values.entrySet().stream()
                    .filter(entry -> counted.test(entry.getValue()))
                    .map(Map.Entry::getKey)
                    .findFirst();
            if (number <= 1 || oldest.isEmpty() || (number <= bounds.most() && size <= bounds.largest())) {
                return;
            }
            values.remove(oldest.get());
        }
    }

    synchronized Optional<V> get(K key) {
        return Optional.ofNullable(values.get(key)).map(Held::value);
    }
}
