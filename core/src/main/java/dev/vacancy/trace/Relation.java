package dev.vacancy.trace;

/**
 * What a part of a trace has to do with the person.
 *
 * @since 0.1
 */
public enum Relation {
    /** The person's own record. */
    RECORD("record"),
    /** Records that hang on it, to any depth, and go with it. */
    BELONGING("belongs to it"),
    /** Records that refer to it and are not the person's own. */
    MENTION("mentions it"),
    /** Columns of text of other records in which a text stands that the person is known by. */
    TEXT("text"),
    /** Entries of the audit trail. */
    TRAIL("audit trail"),
    /** Words of people in the audit trail, and in bulk runs: who did something, why, and what was selected. */
    WORDS("words of runs"),
    /** Records that a bulk run lists. */
    BULK_RUN("bulk runs"),
    /** Messages for somebody outside of the database. */
    FOLLOW_UP("follow-ups");

    private final String words;

    Relation(String words) {
        this.words = words;
    }

    /**
     * Returns the relation in words.
     *
     * @return such as {@code mentions it}
     */
    @Override
    public String toString() {
        return words;
    }
}
