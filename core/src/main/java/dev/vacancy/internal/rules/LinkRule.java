package dev.vacancy.internal.rules;

import dev.vacancy.Criteria;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.rule.Rule;
import java.util.Optional;

/**
 * One clause of the rule on a link of the catalog.
 *
 * @param link the link
 * @param rule what happens to the children that it decides for
 * @param criteria which those are; empty for all that no earlier clause decides for
 * @param reason why, in words for people
 * @param newParent the parent that takes the children over, if the rule is to reassign them and names it
 * @param lastOnly whether it decides only for those to which no other record points any more than those that go: the parents on a link that
 *     is turned round
 * @param takesElement whether the whole element of an array goes in which the field of the link stands
 * @since 0.1
 */
public record LinkRule(
        Link link,
        Rule rule,
        Optional<Criteria> criteria,
        String reason,
        Optional<Key> newParent,
        boolean lastOnly,
        boolean takesElement) {
    /** A clause that decides for all children that meet its criteria. */
    LinkRule(Link link, Rule rule, Optional<Criteria> criteria, String reason, Optional<Key> newParent) {
        this(link, rule, criteria, reason, newParent, false, false);
    }
}
