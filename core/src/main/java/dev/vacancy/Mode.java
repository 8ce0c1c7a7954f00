package dev.vacancy;

/**
 * In which way something that was agreed to is carried out. Whoever agrees to one way hasn't agreed to another.
 *
 * @since 0.1
 */
public enum Mode {
    /** In one transaction: all of it or nothing. */
    AT_ONCE("at once"),
    /** In chunks that are committed one by one; what turns out to be blocked is left out. */
    IN_CHUNKS("in chunks"),
    /** In one transaction, with all that the audit trail holds of the record: there is no way back. */
    ERASING("with its content in the audit trail");

    private final String words;

    Mode(String words) {
        this.words = words;
    }

    /**
     * Returns the way in words.
     *
     * @return such as {@code in chunks}
     */
    @Override
    public String toString() {
        return words;
    }
}
