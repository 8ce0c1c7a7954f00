package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.trail.HoldsInForce;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/**
 * A plan with the statements that carry it out.
 *
 * @param plan the plan, as an application sees it
 * @param selected picks the selected records; only where they are locked for a run
 * @param steps what a run does, in this order; none while there are blockers
 * @param deferring whether the steps delete records that point at each other, so that the database's checks of foreign keys
 *     have to wait until all of them are done
 * @param holds what was kept to
 * @param going picks the records of a table that go, or are marked, whether anything forbids that or not; empty of a table without any
 * @since 0.1
 */
public record Planned(
        PlannedDeletion plan,
        Condition selected,
        List<Step> steps,
        boolean deferring,
        HoldsInForce holds,
        Function<Table, Optional<Condition>> going) {
    /** Keeps its own copy of the steps. */
    public Planned {
        steps = List.copyOf(steps);
    }
}
