package dev.vacancy.trace;

/**
 * What an erasure does with a part of a trace.
 *
 * @since 0.1
 */
public enum Treatment {
    /** Records go for good. */
    DELETE("deleted"),
    /** What is personal is made unreadable, and the rest stays. */
    MASK("masked"),
    /** What the audit trail says of a record goes; that something happened to it stays told. */
    ERASE("erased"),
    /** Records stay, without the reference. */
    DETACH("detached"),
    /** Records stay, and refer to another record. */
    REASSIGN("reassigned"),
    /** It stays as it is, for a reason. */
    KEEP("kept"),
    /** It forbids the erasure. */
    BLOCK("forbids it");

    private final String words;

    Treatment(String words) {
        this.words = words;
    }

    /**
     * Returns what becomes of the part in words.
     *
     * @return such as {@code masked}
     */
    @Override
    public String toString() {
        return words;
    }
}
