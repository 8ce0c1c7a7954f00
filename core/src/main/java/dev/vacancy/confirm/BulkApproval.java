package dev.vacancy.confirm;

import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Plan;
import java.util.Optional;

/**
 * Proof that somebody agreed to delete the records of a selection in chunks, each by itself: that so many records are selected, and
 * that those which turn out to be blocked are left out. Only a plan can give one.
 *
 * @since 0.1
 */
public final class BulkApproval {
    private final Plan plan;
    private final Optional<By> colleague;

    private BulkApproval(Plan plan, Optional<By> colleague) {
        this.plan = plan;
        this.colleague = colleague;
    }

    /**
     * Approves a selection to be deleted in chunks: a program decided. For a person to decide, ask a {@link Question}.
     *
     * @param plan the plan of the whole, blocked records among it
     * @return the approval
     */
    public static BulkApproval of(Plan plan) {
        return new BulkApproval(plan, Optional.empty());
    }

    /**
     * Adds that a colleague agrees as well.
     *
     * @param other who
     * @return the approval of both
     * @throws InvalidRequestException when it is the one who asks
     */
    public BulkApproval agreedBy(By other) {
        Colleague.require(plan.by(), other);
        return new BulkApproval(plan, Optional.of(other));
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
     * @return the plan of the whole
     */
    public Plan plan() {
        return plan;
    }
}
