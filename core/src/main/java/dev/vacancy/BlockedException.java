package dev.vacancy;

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

    /**
     * Says what forbids to empty a table.
     *
     * @param plan a plan with holds
     */
    public BlockedException(EmptyingPlan plan) {
        super(
                FailureCode.BLOCKED,
                "Emptying " + plan.table() + " is blocked. " + why(plan.holds().get(0)) + ".",
                "Have the hold lifted, or delete the other records by a selection.",
                null);
        this.blockers = List.of();
    }

    private static String why(Plan plan) {
        return plan.blockers().isEmpty()
                ? why(plan.holds().get(0))
                : String.valueOf(plan.blockers().get(0));
    }

    private static String why(Held held) {
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
