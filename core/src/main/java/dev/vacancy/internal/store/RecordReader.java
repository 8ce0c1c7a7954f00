package dev.vacancy.internal.store;

import dev.vacancy.Criteria;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Predicate;

/**
 * Reads single records and their keys, without waiting for anybody.
 *
 * @since 0.1
 */
public final class RecordReader {
    private final RecordStore store;
    private final DatabaseCatalog catalog;

    /**
     * Reads in a store.
     *
     * @param store the records, to be looked at
     * @param catalog what the database holds
     */
    public RecordReader(RecordStore store, DatabaseCatalog catalog) {
        this.store = store;
        this.catalog = catalog;
    }

    /**
     * Reads the keys of records.
     *
     * @param table the table
     * @param condition picks the records
     * @param most how many at most
     * @param skippingHeld true to leave out those that someone else has locked
     * @return the keys in order; none of a table without any
     */
    public List<Key> keys(Table table, Condition condition, int most, boolean skippingHeld) {
        return table.identity().isEmpty()
                ? List.of()
                : keys(table, store.identities(table, condition, most, skippingHeld));
    }

    /**
     * Reads the keys of records of several tables.
     *
     * @param picked which; of tables that have keys
     * @return for each, in order
     */
    public List<List<Key>> keys(List<RecordStore.Picked> picked) {
        List<List<Key>> keys = new ArrayList<>();
        List<List<List<Object>>> identities = store.identities(picked);
        for (int i = 0; i < picked.size(); i++) {
            keys.add(keys(picked.get(i).table(), identities.get(i)));
        }
        return keys;
    }

    private static List<Key> keys(Table table, List<List<Object>> identities) {
        return identities.stream()
                .<Key>map(values -> new RecordKey(table.identity(), values))
                .toList();
    }

    /**
     * Tells which of some records match a criteria.
     *
     * @param table the table
     * @param keys the records
     * @param criteria the criteria
     * @param moment tells the moment that relative times are told from
     * @return the keys of those that do
     */
    public List<Key> matching(Table table, List<Key> keys, Criteria criteria, Clock moment) {
        Condition among = new Condition.Among(
                table.identity(), keys.stream().map(Key::values).toList());
        return keys(
                table,
                new Condition.AllOf(List.of(among, Resolution.of(criteria, table, catalog, moment))),
                keys.size(),
                false);
    }

    /**
     * Reads the keys of records one by one, however many there are.
     *
     * @param table the table
     * @param condition picks the records
     * @param each takes each key, in their order
     * @return the digest of all of them
     */
    public String eachKey(Table table, Condition condition, Consumer<Key> each) {
        KeyDigest digest = new KeyDigest();
        store.eachIdentity(table, condition, values -> {
            Key key = new RecordKey(table.identity(), values);
            digest.add(key);
            each.accept(key);
        });
        return digest.hex();
    }

    /**
     * Reads records whole, one by one and in the order of their keys, however many there are.
     *
     * @param table the table
     * @param condition picks the records
     * @param each takes each record
     */
    public void eachRecord(Table table, Condition condition, Consumer<RecordContent> each) {
        Records records = new Records(catalog);
        store.eachWholeInOrder(table, condition, row -> each.accept(records.content(table, row.exact(), row.values())));
    }

    /**
     * Reads a few records, whole and in the order of their keys.
     *
     * @param table the table
     * @param condition picks the records
     * @param skipped how many of them come before
     * @param most how many at most
     * @param mayKnow which of them count; empty for all
     * @return the records
     */
    public List<RecordContent> first(
            Table table, Condition condition, int skipped, int most, Optional<Predicate<RecordContent>> mayKnow) {
        Part<RecordContent> part = new Part<>(skipped, most);
        if (mayKnow.isPresent()) {
            Predicate<RecordContent> known = mayKnow.get();
            eachRecord(table, condition, record -> {
                if (!part.isFull() && known.test(record)) {
                    part.add(record);
                }
            });
            return part.list();
        }
        Part<List<Object>> keys = new Part<>(skipped, most);
        keys(table, condition, (int) Math.min(Integer.MAX_VALUE, (long) skipped + most), false)
                .forEach(key -> keys.add(key.values()));
        List<RecordContent> records = new ArrayList<>();
        if (!keys.list().isEmpty()) {
            eachRecord(table, new Condition.Among(table.identity(), keys.list()), records::add);
        }
        return records;
    }
}
