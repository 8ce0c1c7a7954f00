package dev.vacancy.internal.planning;

import dev.vacancy.internal.rules.Rules;
import dev.vacancy.rule.Consent;

/**
 * A plan that was made elsewhere, by rules that may ask for less, with what is asked for here.
 *
 * @param proposal the plan as it was made
 * @param demanded what a person has to have given here
 * @param colleague whether somebody else has to agree here
 * @param scope what it is of here
 * @since 0.1
 */
public record PlannedElsewhere(PlannedDeletion proposal, Consent demanded, boolean colleague, Scope scope)
        implements Gated {
    /**
     * Works out what is asked for here.
     *
     * @param plan the plan
     * @param rules the rules here
     * @param scope what it is of here
     * @return the same plan with what is asked for here
     */
    public static PlannedElsewhere of(PlannedDeletion plan, Rules rules, Scope scope) {
        ConsentDemands demands = new ConsentDemands(rules, rules.deleting(plan.table(), !plan.isSoft()));
        return new PlannedElsewhere(
                plan, demands.of(plan.counts(), plan.selected()), demands.colleague(plan.counts()), scope);
    }
}
