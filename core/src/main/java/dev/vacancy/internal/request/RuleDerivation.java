package dev.vacancy.internal.request;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.rule.Finding;
import java.util.List;

/**
 * Rules that somebody works out once the catalog is known: those that the mapping of an object mapper states, for example. What the
 * application says itself comes before them.
 */
public interface RuleDerivation {
    /** Where nothing is derived. */
    RuleDerivation NONE = catalog -> new Derived(WrittenRules.NONE, List.of());

    /**
     * Works them out.
     *
     * @param catalog what the database holds, without undeclared links
     * @return the rules, all of them about what the catalog has
     */
    Derived derive(Catalog catalog);

    /**
     * What was worked out.
     *
     * @param rules the rules, each with where it comes from
     * @param findings where that and the schema disagree, or what couldn't be made a rule
     */
    record Derived(WrittenRules rules, List<Finding> findings) {
        /** Keeps its own copy of the findings. */
        public Derived {
            findings = List.copyOf(findings);
        }
    }
}
