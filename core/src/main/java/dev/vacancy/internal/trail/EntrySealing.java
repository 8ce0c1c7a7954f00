package dev.vacancy.internal.trail;

import java.nio.ByteBuffer;

/**
 * Makes entries, each with a salt and a digest of its own.
 *
 * @since 0.1
 */
public final class EntrySealing {
    private final EntrySalts salts = new EntrySalts();
    private long number;

    /**
     * Makes an entry.
     *
     * @param heading what is written beside the content
     * @param place its place in the step, from 1
     * @param key the key of the record, or null
     * @param content what the record was, or null
     * @param about the entry or the run that it is about, or null
     * @return the entry
     */
    public StoredEntry seal(Recorder.Heading heading, long place, String key, String content, Reference about) {
        ByteBuffer salt = salt();
        String altered = heading.altered().orElse(null);
        Reference reference = heading.reference(place);
        String word = heading.action().word();
        String rest = StoredEntry.rest(word, heading.table(), about);
        ByteBuffer digest = StoredEntry.digest(salt, reference, rest, key, altered, content);
        return new StoredEntry(reference, word, heading.table(), key, content, altered, about, null, salt, digest);
    }

    /** {@return a salt that no other entry has} */
    public ByteBuffer salt() {
        return salts.salt(++number);
    }
}
