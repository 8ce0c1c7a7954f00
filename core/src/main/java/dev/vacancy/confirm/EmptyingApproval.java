package dev.vacancy.confirm;

import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.plan.By;
import dev.vacancy.plan.EmptyingPlan;
import java.util.Optional;

/**
 * Proof that somebody agreed to empty a table. Only a plan can give one.
 *
 * @since 0.1
 */
public final class EmptyingApproval {
    private final EmptyingPlan plan;
    private final Optional<By> colleague;

    private EmptyingApproval(EmptyingPlan plan, Optional<By> colleague) {
        this.plan = plan;
        this.colleague = colleague;
    }

    /**
     * Approves a plan: a program decided. For a person to decide, ask an {@link EmptyingQuestion}.
     *
     * @param plan the plan
     * @return the approval
     */
    public static EmptyingApproval of(EmptyingPlan plan) {
        return new EmptyingApproval(plan, Optional.empty());
    }

    /**
     * Adds that a colleague agrees as well.
     *
     * @param other who
     * @return the approval of both
     * @throws InvalidRequestException when it is the one who asks
     */
    public EmptyingApproval agreedBy(By other) {
        Colleague.require(plan.by(), other);
        return new EmptyingApproval(plan, Optional.of(other));
    }

    /**
     * Returns who agrees beside the one who asks.
     *
     * @return the colleague, or empty
     */
    public Optional<By> colleague() {
        return colleague;
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
