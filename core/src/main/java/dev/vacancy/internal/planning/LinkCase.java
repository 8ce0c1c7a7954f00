package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Link;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.rules.LinkRule;
import dev.vacancy.internal.rules.Rules;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A clause of a rule at the moment of planning.
 *
 * @param rule the clause
 * @param only which children it decides for, those of earlier clauses left out; empty for all
 * @since 0.1
 */
record LinkCase(LinkRule rule, Optional<Condition> only) {
    // Few cases are on one link, and a link has a short answer.
    @Override
    public int hashCode() {
        return rule.link().hashCode();
    }

    /**
     * Narrows a condition on the children to those that this clause decides for.
     *
     * @param children picks children on the link
     * @return the narrower condition
     */
    Condition among(Condition children) {
        return only.<Condition>map(condition -> new Condition.AllOf(List.of(children, condition)))
                .orElse(children);
    }

    /**
     * Returns the clauses on a link as they apply at a moment, each without the children that an earlier one decides
     * for.
     *
     * @param link a link of the rules' catalog
     * @param rules the rules
     * @param clock tells the moment
     * @return at least one, in their order
     */
    static List<LinkCase> of(Link link, Rules rules, Clock clock) {
        List<LinkCase> cases = new ArrayList<>();
        List<Condition> earlier = new ArrayList<>();
        Optional<Condition> active = rules.concernsActiveOnly(link.parent())
                ? rules.active(link.child())
                        .map(criteria -> Resolution.of(criteria, link.child(), rules.catalog(), clock))
                : Optional.empty();
        for (LinkRule rule : rules.of(link)) {
            List<Condition> parts = new ArrayList<>(earlier);
            Optional<Condition> own =
                    rule.criteria().map(criteria -> Resolution.of(criteria, link.child(), rules.catalog(), clock));
            own.ifPresent(condition -> {
                parts.add(0, condition);
                earlier.add(new Condition.Except(condition));
            });
            active.ifPresent(parts::add);
            cases.add(new LinkCase(rule, parts.isEmpty() ? Optional.empty() : Optional.of(new Condition.AllOf(parts))));
        }
        return cases;
    }
}
