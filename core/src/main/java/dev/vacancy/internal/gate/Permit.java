package dev.vacancy.internal.gate;

import dev.vacancy.Proposal;

/** Says whether whoever acts may do what a plan says. */
@FunctionalInterface
public interface Permit {
    /** Everybody may do everything. */
    Permit EVERYTHING = plan -> {};

    /**
     * Refuses what isn't permitted.
     *
     * @param plan what would be done, as it is now and under lock
     * @throws dev.vacancy.InvalidRequestException when they may not
     */
    void require(Proposal plan);
}
