package dev.vacancy.internal.trail;

import dev.vacancy.internal.dialect.Bytes;
import java.util.Map;
import java.util.UUID;
import java.util.function.UnaryOperator;

/**
 * A run as it stands in the trail.
 *
 * @param place its place in the chain, from 1
 * @param number by which its entries name it
 * @param facts what it was
 * @param entries how many entries it has
 * @param entriesDigest the digest of their digests
 * @param previous the digest of the run before
 * @param digest its own
 * @param words how the words of its selection are digested
 * @since 0.1
 */
public record StoredRun(
        long place,
        long number,
        RunFacts facts,
        long entries,
        String entriesDigest,
        String previous,
        String digest,
        Words words) {
    /** What stands where the words of a selection were. */
    public static final String ERASED = "(erased)";

    /**
     * The digest of words that may be erased: the chain holds without them, and nobody can guess them from it.
     *
     * @param salt what they were digested with; null once erased
     * @param digest their digest
     * @param erasedBy the number of the run that erased them, or null
     */
    public record Words(String salt, String digest, Long erasedBy) {
        static Words of(String salt, String words) {
            return new Words(
                    salt, Bytes.hex(new FramedDigest().field(salt).field(words).end()), null);
        }
    }

    /**
     * Makes a run that stands behind all others.
     *
     * @param place the place behind the last one
     * @param previous the digest of the last one
     * @param facts what the run was
     * @param entries how many entries it has
     * @param entriesDigest the digest of their digests
     * @return the run, with its own digest
     */
    public static StoredRun following(long place, String previous, RunFacts facts, long entries, String entriesDigest) {
        Words words = Words.of(UUID.randomUUID().toString(), facts.selection());
        return of(place, previous, facts, entries, entriesDigest, words);
    }

    static StoredRun of(long place, String previous, RunFacts facts, long entries, String entriesDigest, Words words) {
        long number = RunNumber.of(facts.runId());
        StoredRun open = new StoredRun(place, number, facts, entries, entriesDigest, previous, "", words);
        return open.bearing(open.expected());
    }

    /**
     * Tells whether the words of its selection are gone.
     *
     * @return true once they were erased
     */
    public boolean isErased() {
        return words.erasedBy() != null && words.salt() == null;
    }

    private StoredRun bearing(String own) {
        return new StoredRun(place, number, facts, entries, entriesDigest, previous, own, words);
    }

    /** The digest that it must have. */
    String expected() {
        FramedDigest all = new FramedDigest().field(String.valueOf(place)).field(previous);
        return Bytes.hex(facts.addTo(all, words.digest())
                .field(String.valueOf(entries))
                .field(entriesDigest)
                .end());
    }

    /** Whether it says what was written. */
    boolean isIntact() {
        return expected().equals(digest) && isSound() && (words.erasedBy() == null) == (words.salt() != null);
    }

    /** Whether number and selection are its own; of what was masked the rest is told by the masking. */
    boolean isSound() {
        return number == RunNumber.of(facts.runId()) && isSelectionIntact();
    }

    /**
     * Says what stays of a run whose facts were masked, so that nobody changes that later.
     *
     * @return an image
     */
    public String remains() {
        return Image.write(Map.of("state", expected()));
    }

    /**
     * Returns the run as it is once a text is masked in its facts.
     *
     * @param mask what becomes of a text; a selection of which anything is masked is erased
     * @param by the number of the run that masks it
     * @return the same run, with the digest that it had
     */
    public StoredRun masked(UnaryOperator<String> mask, long by) {
        boolean selected = !isErased() && mask.apply(facts.selection()).equals(facts.selection());
        return left(facts.inOtherWords(mask), selected, by);
    }

    /**
     * Returns the run as it is once the words of its selection are erased.
     *
     * @param by the number of the run that erases them
     * @return the same run, with the digest that it had
     */
    public StoredRun withoutSelection(long by) {
        return left(facts, false, by);
    }

    private StoredRun left(RunFacts left, boolean selected, long by) {
        return new StoredRun(
                place,
                number,
                selected ? left : left.selecting(ERASED),
                entries,
                entriesDigest,
                previous,
                digest,
                new Words(selected ? words.salt() : null, words.digest(), by));
    }

    /**
     * Tells whether facts of it were masked.
     *
     * @return true if its digest isn't of what it says now
     */
    public boolean isMasked() {
        return !expected().equals(digest);
    }

    /** Whether the words of the selection are those that were digested, as far as they are still there. */
    private boolean isSelectionIntact() {
        return words.salt() != null
                ? Words.of(words.salt(), facts.selection()).digest().equals(words.digest())
                : facts.selection().equals(ERASED);
    }
}
