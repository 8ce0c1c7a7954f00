package dev.vacancy.internal.trail;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.dialect.Bytes;
import java.nio.ByteBuffer;
import java.util.LinkedHashMap;
import java.util.List;
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
     * Returns how long what it says of the record is.
     *
     * @return how many characters
     */
    public long characters() {
        return (content == null ? 0L : content.length()) + (altered == null ? 0L : altered.length());
    }

    /**
     * Tells whether what it said of the record was erased.
     *
     * @return true if nothing of it is left
     */
    public boolean isErased() {
        return erasedBy != null && seal.remaining() == 0;
    }

    /**
     * Tells whether a text was masked in what it says.
     *
     * @return true if the rest still stands there
     */
    public boolean isMasked() {
        return erasedBy != null && seal.remaining() > 0;
    }

    /**
     * Returns the entry as it is once what it says of the record is erased.
     *
     * @param keyLeft its key, or null where that goes as well
     * @param by the number of the run that erases it
     * @return the same entry, with the digest that it had
     */
    public StoredEntry erased(String keyLeft, long by) {
        ByteBuffer none = ByteBuffer.allocate(0);
        return new StoredEntry(reference, word, table, keyLeft, null, null, about, by, none, digest);
    }

    /**
     * Returns the entry as it is once a text is masked in it.
     *
     * @param contentLeft the record before, without the text; null if there was none
     * @param alteredLeft what columns were set to, without the text; null if there was nothing
     * @param salt what its new state is digested with
     * @param by the number of the run that masks it
     * @return the same entry, with the digest that it had
     */
    public StoredEntry masked(String contentLeft, String alteredLeft, ByteBuffer salt, long by) {
        return new StoredEntry(reference, word, table, key, contentLeft, alteredLeft, about, by, salt, digest);
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
     * Returns the record's identity, as its image has it. A column that has been renamed since is known by its place.
     *
     * @param columns the columns of the identity, as they are called now
     * @return the values as the database's codecs take them from images; empty where the image has others, or is erased
     */
    public Optional<List<Object>> identity(List<Column> columns) {
        Map<String, Object> image = image().orElse(Map.of());
        if (columns.stream().allMatch(column -> image.containsKey(column.name()))) {
            return Optional.of(
                    columns.stream().map(column -> image.get(column.name())).toList());
        }
        return image.size() == columns.size() ? Optional.of(List.copyOf(image.values())) : Optional.empty();
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
        return new FramedDigest()
                .bytes(salt)
                .plain(reference + rest)
                .field(key)
                .field(altered)
                .field(content)
                .end();
    }

    /** What stands behind the reference in what is digested. */
    static String rest(String word, String table, Reference about) {
        return " " + word + " " + (about == null ? "-" : about) + " " + FramedDigest.framed(table);
    }

    /** Whether it says what was written; of an erased or masked one the entry that tells of that says so. */
    boolean isIntact() {
        if (erasedBy == null) {
            return state().equals(digest);
        }
        return isMasked() || (content == null && altered == null);
    }

    private ByteBuffer state() {
        return digest(seal, reference, rest(word, table, about), key, altered, content);
    }

    /**
     * Says what stays of an entry that is erased or masked, so that nobody changes that later.
     *
     * @return an image
     */
    public String remains() {
        Map<String, Object> remains = new LinkedHashMap<>();
        remains.put("action", word);
        remains.put("about", about == null ? null : about.toString());
        if (isMasked()) {
            remains.put("state", Bytes.hex(state()));
        }
        return Image.write(remains);
    }
}
