package dev.vacancy.internal.request;

import dev.vacancy.Criteria;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Rule;
import java.util.List;
import java.util.Optional;

/** What an application has given as {@link Clause}. */
public record GivenClause(Rule rule, Optional<Criteria> criteria, Optional<String> reason, List<Object> newParent)
        implements Clause {
    /** Keeps its own copy of the key. */
    public GivenClause {
        newParent = List.copyOf(newParent);
    }
}
