package dev.vacancy.rule;

/**
 * What happens to the children on a link when their parent goes.
 *
 * @since 0.1
 */
public enum Rule {
    /** The child goes too, and its own links are followed. */
    CASCADE("goes too"),
    /** The child forbids the deletion, if it would survive. */
    BLOCK("forbids it"),
    /** The child survives, its foreign key set to null. */
    DETACH("stays, detached"),
    /** The child survives, its foreign key set to the column's default. */
    RESET("stays, reset to the default");

    private final String effect;

    Rule(String effect) {
        this.effect = effect;
    }

    /**
     * Says what becomes of the child.
     *
     * @return a few words of which the child is the subject
     */
    public String effect() {
        return effect;
    }

    @Override
    public String toString() {
        return name().toLowerCase(java.util.Locale.ROOT);
    }
}
