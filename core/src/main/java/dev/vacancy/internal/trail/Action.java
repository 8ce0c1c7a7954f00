package dev.vacancy.internal.trail;

import java.util.Arrays;

/**
 * What happened to a record.
 *
 * @since 0.1
 */
public enum Action {
    /** It went. */
    DELETED("deleted"),
    /** It had been marked, and went for good. */
    PURGED("purged"),
    /** It was marked and stayed. */
    MARKED("marked"),
    /** Its link was set to null. */
    DETACHED("detached"),
    /** Its link was set to another parent. */
    REASSIGNED("reassigned"),
    /** Its link was set to its default. */
    RESET("reset"),
    /** Who changed it last was written down in it. */
    TOUCHED("touched"),
    /** A text was masked in it, in its table; what it was before isn't kept. */
    REWRITTEN("rewritten"),
    /** It came back, as the entry says that this one is about. */
    RESTORED("restored"),
    /** It was put on hold. */
    HELD("held"),
    /** The entry, or the run, that this one is about has lost what it said of the record. */
    ERASED("erased"),
    /** A text was masked in what an entry, or a run, says. */
    MASKED("masked"),
    /** The run that this entry tells of was removed from the trail. */
    AGED("aged");

    private final String word;

    Action(String word) {
        this.word = word;
    }

    /**
     * Returns the word that stands in the trail.
     *
     * @return one word
     */
    public String word() {
        return word;
    }

    /**
     * Tells whether this is what an entry tells of.
     *
     * @param entry the entry
     * @return true if so
     */
    public boolean isOf(StoredEntry entry) {
        return entry.word().equals(word);
    }

    /**
     * Tells whether the record isn't in its table any more.
     *
     * @return true if its row went
     */
    public boolean isDeletion() {
        return this == DELETED || this == PURGED;
    }

    /**
     * Tells whether the record was gone afterwards, for good or marked.
     *
     * @return false if it stayed, was changed or came back
     */
    public boolean removes() {
        return isDeletion() || this == MARKED;
    }

    /**
     * Finds an action.
     *
     * @param word what {@link #word} gives
     * @return the action
     * @throws IllegalArgumentException when there is none: the trail was written by somebody else
     */
    public static Action of(String word) {
        return Arrays.stream(values())
                .filter(action -> action.word.equals(word))
                .findFirst()
                .orElseThrow(() -> new IllegalArgumentException("The trail knows no action '" + word + "'."));
    }
}
