package dev.vacancy.test;

import dev.vacancy.Effect;
import dev.vacancy.Plan;
import dev.vacancy.rule.Rule;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Assertions about a plan.
 *
 * @since 0.1
 */
public final class PlanAssert extends DeletionAssert<PlanAssert, Plan> {
    PlanAssert(Plan actual) {
        super(actual, PlanAssert.class);
    }

    @Override
    Map<String, Long> counts() {
        return actual.counts();
    }

    @Override
    Map<String, Long> changes() {
        return actual.effects().stream()
                .filter(effect -> effect.rule() != Rule.CASCADE && effect.rule() != Rule.KEEP)
                .collect(Collectors.toMap(effect -> effect.link().where(), Effect::count, Long::sum));
    }

    @Override
    Set<String> markedTables() {
        return actual.marked();
    }

    @Override
    String shown() {
        return actual.tree();
    }

    /**
     * Says that nothing forbids the deletion.
     *
     * @return this
     */
    public PlanAssert isPossible() {
        return expecting(actual.blockers().isEmpty() && actual.holds().isEmpty(), "nothing to forbid it");
    }

    /**
     * Says that children on a link forbid the deletion.
     *
     * @param link where their foreign key stands, such as {@code craft.berth_id}
     * @return this
     */
    public PlanAssert isBlockedBy(String link) {
        return expecting(
                actual.blockers().stream()
                        .anyMatch(blocker -> blocker.link().where().equals(link)),
                "children on " + link + " to forbid it");
    }

    /**
     * Says how many records are selected themselves.
     *
     * @param records how many
     * @return this
     */
    public PlanAssert selects(long records) {
        return expecting(actual.selected() == records, records + " to be selected");
    }
}
