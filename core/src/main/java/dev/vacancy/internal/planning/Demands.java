package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Table;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Rules;
import java.util.Map;

/** What the application's rules want before records go: the strictest of what they say of all tables that lose some. */
final class Demands {
    private final Rules rules;
    private final Rules applying;

    /**
     * Prepares to tell.
     *
     * @param applying the rules for this deletion, by which it is known which tables are marked
     */
    Demands(Rules rules, Rules applying) {
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

    /** Whether somebody else has to agree as well. */
    boolean colleague(Map<String, Long> counts) {
        return counts.keySet().stream()
                .anyMatch(going -> rules.consent(rules.catalog().table(going))
                        .filter(ConsentRule::colleague)
                        .isPresent());
    }
}
