package dev.vacancy.confirm;

import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Plan;
import java.util.Optional;

/**
 * Proof that the plan with this fingerprint was agreed to. Only a plan can give one, and only an approval can be run.
 *
 * @since 0.1
 */
public final class Approval {
    private final Plan plan;
    private final Optional<By> colleague;

    private Approval(Plan plan, Optional<By> colleague) {
        this.plan = plan;
        this.colleague = colleague;
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
        return new Approval(plan, Optional.empty());
    }

    /**
     * Adds that a colleague agrees as well.
     *
     * @param other who
     * @return the approval of both
     * @throws InvalidRequestException when it is the one who asks
     */
    public Approval agreedBy(By other) {
        Colleague.require(plan.by(), other);
        return new Approval(plan, Optional.of(other));
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
