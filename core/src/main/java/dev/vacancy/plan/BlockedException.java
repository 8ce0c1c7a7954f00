package dev.vacancy.plan;

import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.VacancyException;
import java.util.List;
import java.util.Locale;

/**
 * A plan with blockers can't be approved. Nothing was changed.
 *
 * @since 0.1
 */
public final class BlockedException extends VacancyException {
    private static final long serialVersionUID = 1L;

    private final transient List<Blocker> blockers;

    /**
     * Says what forbids a plan.
     *
     * @param plan a plan with blockers or holds
     */
    public BlockedException(Plan plan) {
        super(
                FailureCode.BLOCKED,
                "This deletion from " + plan.table() + " is blocked. " + why(plan) + ".",
                plan.blockers().isEmpty()
                        ? "Leave those records out, or have the hold lifted."
                        : "Delete or change those records first, or leave out the ones they belong to.",
                null);
        this.blockers = plan.blockers();
    }

    private static String why(Plan plan) {
        if (!plan.blockers().isEmpty()) {
            return String.valueOf(plan.blockers().get(0));
        }
        Held held = plan.holds().get(0);
        return String.format(
                Locale.ROOT,
                "%,d %s of %s held by %s: %s",
                held.count(),
                held.count() == 1 ? "record" : "records",
                held.table() + (held.count() == 1 ? " is" : " are"),
                held.by(),
                held.reason());
    }

    /**
     * Returns the records that forbid the deletion.
     *
     * @return the children; none if the records themselves are held
     */
    public List<Blocker> blockers() {
        return blockers;
    }
}
