package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Table;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import java.util.Map;

/**
 * What the application's rules want before records go: the strictest of what they say of all tables that lose some.
 *
 * @since 0.1
 */
public final class ConsentDemands {
    private final Rules rules;
    private final Rules applying;

    /**
     * Prepares to tell.
     *
     * @param rules all rules
     * @param applying the rules for this deletion, by which it is known which tables are marked
     */
    public ConsentDemands(Rules rules, Rules applying) {
        this.rules = rules;
        this.applying = applying;
    }

    /** What a person has to have given; nothing where the rules ask nobody. */
    Consent of(Map<String, Long> counts, long selected) {
        Consent demanded = Consent.NONE;
        for (Map.Entry<String, Long> going : counts.entrySet()) {
            Table losing = rules.catalog().table(going.getKey());
            boolean reversible = rules.recording().isPresent() || applying.isMarked(losing);
            demanded = demanded.and(rules.consent(losing)
                    .map(rule -> rule.of(going.getValue(), reversible))
                    .orElse(Consent.NONE));
        }
        return demanded == Consent.LABEL && selected != 1 ? Consent.NUMBER : demanded;
    }

    /**
     * Returns what a person has to have given for one record of a table that goes with no way back.
     *
     * @param losing the table
     * @return nothing where the rules ask nobody
     */
    public Consent withoutWayBack(Table losing) {
        return rules.consent(losing).map(rule -> rule.of(1, false)).orElse(Consent.NONE);
    }

    /**
     * Tells whether somebody else has to agree as well.
     *
     * @param counts how many records of each table are concerned
     * @return true if the rules of one of these tables want that
     */
    public boolean colleague(Map<String, Long> counts) {
        return counts.keySet().stream()
                .anyMatch(going -> rules.consent(rules.catalog().table(going))
                        .filter(ConsentRule::colleague)
                        .isPresent());
    }
}
