package dev.vacancy.internal.store;

/**
 * What records are read for.
 *
 * @since 0.1
 */
public enum Purpose {
    /** To be shown. */
    LOOKING,

    /** To be shown where nothing is asked for: what would become of them, and not whether it could be done. */
    TRACING,

    /** To be compared, under lock, with what somebody has agreed to. */
    COMPARING,

    /** To be locked for a deletion that is decided: no more of them has to be known than who goes. */
    DELETING;

    /**
     * Tells whether anybody wants to do what would become of them.
     *
     * @return false where they are only traced
     */
    public boolean isToBeDone() {
        return this != TRACING;
    }

    /**
     * Tells whether the records are read to be changed in this transaction, and not only to be looked at.
     *
     * @return true if they are locked as they are read
     */
    public boolean isLocking() {
        return this == COMPARING || this == DELETING;
    }
}
