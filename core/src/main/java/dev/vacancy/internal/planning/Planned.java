package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.trail.HoldsInForce;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;

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

    /**
     * Returns what one commit can hold together of it, from the first step on: what lies within this database, or what goes from one table
     * whose records lie on other servers.
     *
     * @return the same plan with these steps; itself if they are all
     */
    public Planned firstPart() {
        if (plan.onOtherServers().isEmpty() || steps.isEmpty()) {
            return this;
        }
        Optional<String> place = elsewhere();
        List<Step> together =
                steps.stream().takeWhile(step -> place(step).equals(place)).toList();
        return new Planned(plan, selected, together, deferring, holds, going);
    }

    /**
     * Tells where the first step leads to.
     *
     * @return the table whose records lie on other servers; empty within this database
     */
    public Optional<String> elsewhere() {
        return steps.stream().findFirst().flatMap(this::place);
    }

    /**
     * Returns how many records these steps delete or mark.
     *
     * @return by table; of a whole plan its counts
     */
    public Map<String, Long> counts() {
        if (plan.onOtherServers().isEmpty()) {
            return plan.counts();
        }
        Set<String> tables = steps.stream().map(step -> step.table().name()).collect(Collectors.toSet());
        Map<String, Long> counts = new LinkedHashMap<>(plan.counts());
        counts.keySet().retainAll(tables);
        return counts;
    }

    private Optional<String> place(Step step) {
        return Optional.of(step.table().name()).filter(plan.onOtherServers()::contains);
    }
}
