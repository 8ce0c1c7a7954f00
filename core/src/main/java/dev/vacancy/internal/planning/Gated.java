package dev.vacancy.internal.planning;

import dev.vacancy.Proposal;
import dev.vacancy.rule.Consent;

/**
 * A plan with all that is looked at before it may be carried out.
 *
 * @since 0.1
 */
public interface Gated {
    /**
     * Returns what the plan is of.
     *
     * @return database, rules and request
     */
    Scope scope();

    /**
     * Returns what a person has to have given by the application's own rules.
     *
     * @return nothing where a program may decide
     */
    Consent demanded();

    /**
     * Tells whether somebody else has to agree as well.
     *
     * @return true if the rules want that
     */
    boolean colleague();

    /**
     * Tells whether whoever lets this plan through lets another one through with it.
     *
     * @param other a plan
     * @return true of the plan itself, and of those that it consists of
     */
    default boolean covers(Gated other) {
        return this == other;
    }

    /**
     * Returns the plan as an application sees it.
     *
     * @return the same plan
     */
    Proposal proposal();
}
