package dev.vacancy.internal.store;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.internal.catalog.RecordKey;
import java.util.List;
import java.util.Objects;

/**
 * Digests a set of records, in whatever order they come: what each is digested to is added up.
 *
 * @since 0.1
 */
public final class KeyDigest {
    private Digest sum = Digest.NONE;
    private long count;

    /**
     * Adds a record.
     *
     * @param record its digest
     */
    public void add(Digest record) {
        sum = sum.plus(record);
        count++;
    }

    /**
     * Adds a record by its key, value by value.
     *
     * @param key the key
     */
    public void add(Key key) {
        add(new Fingerprint().addAll(RecordKey.of(key).storable()).digest());
    }

    /**
     * Adds a record by the identity with which its row begins.
     *
     * @param identity the columns of the identity
     * @param row the row; a value may be missing
     */
    public void add(List<Column> identity, List<Object> row) {
        List<Object> values = row.subList(0, identity.size());
        if (values.stream().anyMatch(Objects::isNull)) {
            add(new Fingerprint().add("incomplete").add(values.toArray()).digest());
        } else {
            add(new RecordKey(identity, values));
        }
    }

    /**
     * Adds other records.
     *
     * @param others their digest
     */
    public void add(KeyDigest others) {
        sum = sum.plus(others.sum);
        count += others.count;
    }

    /** {@return how many records there are} */
    public long count() {
        return count;
    }

    /** {@return the digest, in hexadecimal digits} */
    public String hex() {
        return sum.hex();
    }

    /** {@return how many there are, with the digest of their keys} */
    public RecordStore.Tally tally() {
        return new RecordStore.Tally(count, hex());
    }
}
