package dev.vacancy.internal.trail;

import java.util.Arrays;

/**
 * What a run of the trail was.
 *
 * @since 0.1
 */
public enum RunKind {
    /** Records went, or were marked. */
    DELETION("deletion"),
    /** Soft-deleted records went for good. */
    PURGE("purge"),
    /** A whole run was undone. */
    RESTORE("restore"),
    /** One record of a run came back, with what had gone with it. */
    PART_RESTORE("part restore"),
    /** A portion of a restore that has more. */
    RESTORING("restoring"),
    /** Content was taken out of the trail. */
    ERASURE("erasure"),
    /** A text was masked wherever the trail had it. */
    MASKING("masking"),
    /** Records were put on hold: those that its entries name. */
    HOLD("hold"),
    /** Records were put on hold, and those that come to meet the criteria. */
    STANDING_HOLD("standing hold"),
    /** A hold was lifted. */
    LIFT("lift"),
    /** The oldest runs were removed. */
    AGEING("ageing"),
    /** A column or a table was set aside. */
    RETIREMENT("retirement"),
    /** What was set aside was dropped. */
    DROP("drop"),
    /** What had retired came back. */
    RETURN("return"),
    /** The trail was taken over from the tables of an earlier version. */
    UPGRADE("upgrade");

    private final String word;

    RunKind(String word) {
        this.word = word;
    }

    /**
     * Returns the word that stands in the trail.
     *
     * @return a word or two
     */
    public String word() {
        return word;
    }

    /**
     * Tells whether records went by such a run, so that it can be undone.
     *
     * @return true for a deletion and a purge
     */
    public boolean removes() {
        return this == DELETION || this == PURGE;
    }

    /**
     * Tells whether records are on hold by such a run.
     *
     * @return true until the hold is lifted
     */
    public boolean holds() {
        return this == HOLD || this == STANDING_HOLD;
    }

    /**
     * Tells whether records came back by such a run.
     *
     * @return true for a restore, or a part or portion of one
     */
    public boolean restores() {
        return this == RESTORE || this == PART_RESTORE || this == RESTORING;
    }

    /**
     * Tells whether the selection of such a run is words of people, or of ours for them.
     *
     * @return false where it says something to the verification
     */
    public boolean tellsInWords() {
        return this != AGEING && this != UPGRADE;
    }

    /**
     * Finds a kind.
     *
     * @param word what {@link #word} gives
     * @return the kind
     * @throws IllegalArgumentException when there is none: the trail was written by somebody else
     */
    public static RunKind of(String word) {
        return Arrays.stream(values())
                .filter(kind -> kind.word.equals(word))
                .findFirst()
                .orElseThrow(() -> new IllegalArgumentException("The trail knows no run of kind '" + word + "'."));
    }
}
