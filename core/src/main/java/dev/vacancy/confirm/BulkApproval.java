package dev.vacancy.confirm;

import dev.vacancy.plan.Plan;

/**
 * Proof that somebody agreed to delete the records of a selection in chunks, each by itself: that so many records are selected, and
 * that those which turn out to be blocked are left out. Only a plan can give one.
 *
 * @since 0.1
 */
public final class BulkApproval {
    private final Plan plan;

    private BulkApproval(Plan plan) {
        this.plan = plan;
    }

    /**
     * Approves a selection to be deleted in chunks: a program decided. For a person to decide, ask a {@link Question}.
     *
     * @param plan the plan of the whole, blocked records among it
     * @return the approval
     */
    public static BulkApproval of(Plan plan) {
        return new BulkApproval(plan);
    }

    /**
     * Returns what was agreed to.
     *
     * @return the plan of the whole
     */
    public Plan plan() {
        return plan;
    }
}
