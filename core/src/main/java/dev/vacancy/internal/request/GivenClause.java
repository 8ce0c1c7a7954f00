package dev.vacancy.internal.request;

import dev.vacancy.Criteria;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Rule;
import java.util.List;
import java.util.Optional;

/** What an application has given as {@link Clause}. */
public record GivenClause(
        Rule rule, Optional<Criteria> criteria, Optional<String> reason, List<Object> newParent, boolean takesElement)
        implements Clause {
    /**
     * A clause that takes no element.
     *
     * @param rule what happens to the children
     * @param criteria which those are
     * @param reason why
     * @param newParent the key of the parent that takes them over
     */
    public GivenClause(Rule rule, Optional<Criteria> criteria, Optional<String> reason, List<Object> newParent) {
        this(rule, criteria, reason, newParent, false);
    }

    /** Keeps its own copy of the key. */
    public GivenClause {
        newParent = List.copyOf(newParent);
    }
}
