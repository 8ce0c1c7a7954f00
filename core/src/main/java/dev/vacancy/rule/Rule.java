package dev.vacancy.rule;

import java.util.Locale;

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
    /** The child survives, its foreign key set to another parent. */
    REASSIGN("stays, handed over"),
    /** The child survives, its foreign key set to the column's default. Only a schema states this rule. */
    RESET("stays, reset to the default"),
    /** Child and parent are one record in two tables: whichever goes takes the other along. In a plan both cascade. */
    PART_OF("goes too, as part of it"),
    /** The child is left as it is. */
    KEEP("stays as it is");

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
        return name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }
}
