package dev.vacancy.internal.planning;

/** Digests a set of records, in whatever order they come: what each is digested to is added up. */
final class KeyDigest {
    private Digest sum = Digest.NONE;
    private long count;

    /** Adds a record's digest. */
    void add(Digest record) {
        sum = sum.plus(record);
        count++;
    }

    /** Adds a record by its key as text. */
    void add(String key) {
        add(new Fingerprint().add(key).digest());
    }

    /** How many records there are. */
    long count() {
        return count;
    }

    String hex() {
        return sum.hex();
    }
}
