package dev.vacancy.audit;

import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;

/**
 * Proof that somebody agreed to undo a run. Only a plan without conflicts can give one.
 *
 * @since 0.1
 */
public final class RestoreApproval {
    private final RestorePlan plan;

    private RestoreApproval(RestorePlan plan) {
        this.plan = plan;
    }

    /**
     * Approves a plan: a program decided. For a person to decide, ask a {@link RestoreQuestion}.
     *
     * @param plan the plan
     * @return the approval
     * @throws InvalidRequestException when something stands in the way
     */
    public static RestoreApproval of(RestorePlan plan) {
        if (!plan.conflicts().isEmpty()) {
            Conflict first = plan.conflicts().get(0);
            throw new InvalidRequestException(
                    FailureCode.CONFLICT,
                    "Run " + plan.run().runId() + " can't be undone: " + first.table() + " " + first.key() + ": "
                            + first.reason()
                            + (plan.conflicts().size() > 1
                                    ? "; and " + (plan.conflicts().size() - 1) + " more conflicts."
                                    : "."),
                    first.remedy());
        }
        return new RestoreApproval(plan);
    }

    /**
     * Returns what was agreed to.
     *
     * @return the plan
     */
    public RestorePlan plan() {
        return plan;
    }
}
