package dev.vacancy.confirm;

import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.VacancyException;
import dev.vacancy.plan.Blocker;
import dev.vacancy.plan.Plan;
import java.util.List;

/**
 * A plan with blockers can't be approved. Nothing was changed.
 *
 * @since 0.1
 */
public final class BlockedException extends VacancyException {
    private static final long serialVersionUID = 1L;

    private final transient List<Blocker> blockers;

    BlockedException(Plan plan) {
        super(
                FailureCode.BLOCKED,
                "This deletion from " + plan.table() + " is blocked. "
                        + plan.blockers().get(0) + ".",
                "Delete or change those records first, or leave out the ones they belong to.",
                null);
        this.blockers = plan.blockers();
    }

    /**
     * Returns the records that forbid the deletion.
     *
     * @return at least one
     */
    public List<Blocker> blockers() {
        return blockers;
    }
}
