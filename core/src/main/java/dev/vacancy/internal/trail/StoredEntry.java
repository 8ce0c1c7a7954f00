package dev.vacancy.internal.trail;

import java.nio.ByteBuffer;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * An entry as it is stored.
 *
 * @param reference which one it is
 * @param word what happened, as it stands in the trail
 * @param table the record's table
 * @param key the record's key, whole; null of a table without one, or once erased
 * @param content the record before, as JSON; null where another entry has it, or once erased
 * @param altered what columns were set to, as JSON, or null
 * @param about the entry that this one is about, or null
 * @param erasedBy the number of the run that erased it, or null
 * @param seal 16 random bytes that all of it is digested with, so that nobody can guess from the digest what was erased; none once it is
 * @param digest the entry's own
 * @since 0.1
 */
public record StoredEntry(
        Reference reference,
        String word,
        String table,
        String key,
        String content,
        String altered,
        Reference about,
        Long erasedBy,
        ByteBuffer seal,
        ByteBuffer digest) {
    /** What a table without a key, or an erased record, is called. */
    private static final String NO_KEY = "";

    /**
     * Returns what happened.
     *
     * @return the action
     * @throws IllegalArgumentException when the trail was written by somebody else
     */
    public Action action() {
        return Action.of(word);
    }

    /**
     * Returns the run's number.
     *
     * @return the number
     */
    public long run() {
        return reference.run();
    }

    /**
     * Returns the step.
     *
     * @return from 1
     */
    public int step() {
        return reference.step();
    }

    /**
     * Returns the place in the step.
     *
     * @return from 1
     */
    public long place() {
        return reference.place();
    }

    /**
     * Returns the key for people.
     *
     * @return the key; an empty text where there is none
     */
    public String keyText() {
        return key == null ? NO_KEY : key;
    }

    /**
     * Tells whether what it said of the record was erased.
     *
     * @return true if so
     */
    public boolean isErased() {
        return erasedBy != null;
    }

    /**
     * Tells whether it says what happened to a record, and nothing of the trail itself.
     *
     * @return false for what an ageing has removed, and for words that were erased from a run
     */
    public boolean isOfRecord() {
        return action() != Action.AGED && (about == null || !about.isToRun());
    }

    /**
     * Returns the record before.
     *
     * @return its values; empty once erased
     */
    public Optional<Map<String, Object>> image() {
        return Optional.ofNullable(content).map(Image::read);
    }

    /**
     * Returns what columns were set to.
     *
     * @return their values; empty if the record went
     */
    public Optional<Map<String, Object>> alteration() {
        return Optional.ofNullable(altered).map(Image::read);
    }

    static ByteBuffer digest(
            ByteBuffer salt, Reference reference, String rest, String key, String altered, String content) {
        return new Framed()
                .bytes(salt)
                .plain(reference + rest)
                .field(key)
                .field(altered)
                .field(content)
                .end();
    }

    /** What stands behind the reference in what is digested. */
    static String rest(String word, String table, Reference about) {
        return " " + word + " " + (about == null ? "-" : about) + " " + Framed.framed(table);
    }

    /** Whether it says what was written; of an erased one the entry that tells of the erasure says so. */
    boolean isIntact() {
        return isErased()
                ? content == null && altered == null && seal.remaining() == 0
                : digest(seal, reference, rest(word, table, about), key, altered, content)
                        .equals(digest);
    }

    /**
     * Says what stays of an entry that is erased, so that nobody changes that later.
     *
     * @return an image
     */
    public String remains() {
        Map<String, Object> remains = new LinkedHashMap<>();
        remains.put("action", word);
        remains.put("about", about == null ? null : about.toString());
        return Image.write(remains);
    }
}
