package dev.vacancy.retirement;

/**
 * A step of what is done with a column or a table that retires.
 *
 * @since 0.1
 */
public enum RetirementStep {
    /** It is renamed, so that whatever still uses it fails, and nothing is lost. */
    SET_ASIDE("set aside"),
    /** What is set aside goes, with its content; definition and content are written to files before. */
    DROP("drop"),
    /** It comes back as it was: from where it was set aside, or from the files. */
    RETURN("return");

    private final String words;

    RetirementStep(String words) {
        this.words = words;
    }

    /**
     * Returns the step in words.
     *
     * @return such as {@code set aside}
     */
    @Override
    public String toString() {
        return words;
    }
}
