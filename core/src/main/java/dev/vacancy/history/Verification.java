package dev.vacancy.history;

import java.util.List;

/**
 * What came of a look at the whole audit trail.
 *
 * @param runs how many runs were looked at
 * @param entries how many entries
 * @param erased how many entries have had their content erased, each by a run that says so
 * @param head where the chain ends
 * @param faults what was changed, removed or slipped in, each a sentence; empty if all is as it was written
 * @since 0.1
 */
public record Verification(long runs, long entries, long erased, Head head, List<String> faults) {
    /** Keeps its own copy of the faults. */
    public Verification {
        faults = List.copyOf(faults);
    }

    /**
     * Where a chain ends. Kept somewhere else, it shows even that a whole trail was written anew.
     *
     * @param place the place of the last run, 0 before the first
     * @param digest the digest that it bears
     */
    public record Head(long place, String digest) {}

    /**
     * Tells whether all is as it was written.
     *
     * @return true if nothing was found
     */
    public boolean isIntact() {
        return faults.isEmpty();
    }
}
