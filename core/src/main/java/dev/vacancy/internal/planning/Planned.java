package dev.vacancy.internal.planning;

import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.trail.HoldsInForce;
import java.util.List;

/**
 * A plan with the statements that carry it out.
 *
 * @param plan the plan, as an application sees it
 * @param selected picks the selected records; only where they are locked for a run
 * @param steps what a run does, in this order; none while there are blockers
 * @param deferring whether the steps delete records that point at each other, so that the database's checks of foreign keys
 *     have to wait until all of them are done
 * @param holds what was kept to
 * @since 0.1
 */
public record Planned(
        PlannedDeletion plan, Condition selected, List<Step> steps, boolean deferring, HoldsInForce holds) {
    /** Keeps its own copy of the steps. */
    public Planned {
        steps = List.copyOf(steps);
    }
}
