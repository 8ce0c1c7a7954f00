package dev.vacancy.confirm;

import dev.vacancy.plan.EmptyingPlan;

/**
 * Proof that somebody agreed to empty a table. Only a plan can give one.
 *
 * @since 0.1
 */
public final class EmptyingApproval {
    private final EmptyingPlan plan;

    private EmptyingApproval(EmptyingPlan plan) {
        this.plan = plan;
    }

    /**
     * Approves a plan: a program decided. For a person to decide, ask an {@link EmptyingQuestion}.
     *
     * @param plan the plan
     * @return the approval
     */
    public static EmptyingApproval of(EmptyingPlan plan) {
        return new EmptyingApproval(plan);
    }

    /**
     * Returns what was agreed to.
     *
     * @return the plan
     */
    public EmptyingPlan plan() {
        return plan;
    }
}
