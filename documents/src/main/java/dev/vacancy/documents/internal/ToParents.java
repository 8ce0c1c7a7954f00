package dev.vacancy.documents.internal;

import dev.vacancy.catalog.Link;
import dev.vacancy.internal.condition.Condition;
import java.util.Optional;

/**
 * A condition on the parents of documents.
 *
 * @param link the link to the parents
 * @param condition what they meet
 */
record ToParents(Link link, Condition condition) {
    static Optional<ToParents> of(Condition condition) {
        if (condition instanceof Condition.OfParent parent) {
            return Optional.of(new ToParents(parent.link(), parent.condition()));
        }
        return condition instanceof Condition.OfManyParents parents
                ? Optional.of(new ToParents(parents.link(), parents.condition()))
                : Optional.empty();
    }
}
