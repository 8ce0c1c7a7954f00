package dev.vacancy.confirm;

import dev.vacancy.plan.Plan;

/**
 * Proof that the plan with this fingerprint was agreed to. Only a plan can give one, and only an approval can be run.
 *
 * @since 0.1
 */
public final class Approval {
    private final Plan plan;

    private Approval(Plan plan) {
        this.plan = plan;
    }

    /**
     * Approves a plan: a program decided. For a person to decide, ask a {@link Question}.
     *
     * @param plan the plan, which may have found nothing
     * @return the approval
     * @throws BlockedException when records forbid the deletion
     */
    public static Approval of(Plan plan) {
        if (plan.isBlocked()) {
            throw new BlockedException(plan);
        }
        return new Approval(plan);
    }

    /**
     * Returns what was agreed to.
     *
     * @return the plan
     */
    public Plan plan() {
        return plan;
    }

    /**
     * Returns the fingerprint that what happens must have.
     *
     * @return the plan's fingerprint
     */
    public String fingerprint() {
        return plan.fingerprint();
    }
}
