package dev.vacancy.rule;

import dev.vacancy.criteria.Condition;
import java.util.List;
import java.util.Optional;

/**
 * A clause of a rule at the moment of planning.
 *
 * @param rule the clause
 * @param only which children it decides for, those of earlier clauses left out; empty for all
 * @since 0.1
 */
public record LinkCase(LinkRule rule, Optional<Condition> only) {
    /**
     * Narrows a condition on the children to those that this clause decides for.
     *
     * @param children picks children on the link
     * @return the narrower condition
     */
    public Condition among(Condition children) {
        return only.<Condition>map(condition -> new Condition.AllOf(List.of(children, condition)))
                .orElse(children);
    }
}
