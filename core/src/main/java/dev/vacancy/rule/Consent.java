package dev.vacancy.rule;

import java.util.Locale;

/**
 * What a person has to give before records go, the least first.
 *
 * @since 0.1
 */
public enum Consent {
    /** Nothing: there is no question. */
    NONE,
    /** A yes. */
    YES,
    /** The number of all records that would go, typed. */
    NUMBER,
    /** The label of the one selected record, typed; of several, their number. */
    LABEL;

    /**
     * Returns the stricter of two.
     *
     * @param other another
     * @return this one or the other
     */
    public Consent and(Consent other) {
        return compareTo(other) >= 0 ? this : other;
    }

    /**
     * Returns the word for it.
     *
     * @return such as {@code number}
     */
    @Override
    public String toString() {
        return name().toLowerCase(Locale.ROOT);
    }
}
