package dev.vacancy.internal.rules;

import dev.vacancy.catalog.Link;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.rule.Rule;
import java.util.List;

/** Links on which nothing but a lock of ours holds children off while their parent goes. */
public final class UnguardedLinks {
    private UnguardedLinks() {}

    /**
     * Finds them.
     *
     * @param rules the rules with their catalog
     * @return the links that the database doesn't enforce, but for those whose children are left as they are
     */
    public static List<Link> of(Rules rules) {
        return rules.catalog().links().stream()
                .filter(link -> !CatalogLink.of(link).enforced())
                .filter(link -> rules.of(link).stream().anyMatch(clause -> clause.rule() != Rule.KEEP))
                .toList();
    }
}
