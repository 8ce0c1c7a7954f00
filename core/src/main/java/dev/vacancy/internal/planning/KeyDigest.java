package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.internal.catalog.RecordKey;
import java.util.List;
import java.util.Objects;

/** Digests a set of records, in whatever order they come: what each is digested to is added up. */
final class KeyDigest {
    private Digest sum = Digest.NONE;
    private long count;

    /** Adds a record's digest. */
    void add(Digest record) {
        sum = sum.plus(record);
        count++;
    }

    /** Adds a record by its key, value by value. */
    void add(Key key) {
        add(new Fingerprint().addAll(RecordKey.of(key).storable()).digest());
    }

    /** Adds a record by the identity with which its row begins; a value may be missing. */
    void add(List<Column> identity, List<Object> row) {
        List<Object> values = row.subList(0, identity.size());
        if (values.stream().anyMatch(Objects::isNull)) {
            add(new Fingerprint().add("incomplete").add(values.toArray()).digest());
        } else {
            add(new RecordKey(identity, values));
        }
    }

    /** Adds other records. */
    void add(KeyDigest others) {
        sum = sum.plus(others.sum);
        count += others.count;
    }

    /** How many records there are. */
    long count() {
        return count;
    }

    String hex() {
        return sum.hex();
    }
}
