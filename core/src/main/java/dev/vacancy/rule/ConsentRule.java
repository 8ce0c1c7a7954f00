package dev.vacancy.rule;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.request.GivenConsentRule;
import java.util.Optional;
import java.util.OptionalLong;

/**
 * How hard people are asked before records of a table go. Where several rules apply to a deletion, the strictest wins; and whoever
 * deletes all of a table types the number in any case.
 *
 * <pre>{@code
 * RuleBook.bySchema()
 *     .consent("reading", ConsentRule.atLeast(Consent.NONE).numberBeyond(1_000))
 *     .consent("keeper", ConsentRule.atLeast(Consent.YES).withoutWayBack(Consent.LABEL))
 * }</pre>
 *
 * @since 0.1
 */
public sealed interface ConsentRule permits GivenConsentRule {
    /** {@return what it takes in any case} */
    Consent least();

    /** {@return of more records of the table than these their number is typed; empty for any number} */
    OptionalLong numberBeyond();

    /** {@return what it takes where nothing keeps what the records were; empty for the same} */
    Optional<Consent> withoutWayBack();

    /** {@return whether somebody else has to agree as well} */
    boolean colleague();

    /**
     * Starts with what it takes in any case.
     *
     * @param least that
     * @return the rule
     */
    static ConsentRule atLeast(Consent least) {
        return new GivenConsentRule(least, OptionalLong.empty(), Optional.empty(), false);
    }

    /**
     * Has the number typed where many records go.
     *
     * @param records of more than so many
     * @return the rule with that
     * @throws InvalidRequestException when it is negative
     */
    default ConsentRule numberBeyond(long records) {
        return new GivenConsentRule(least(), OptionalLong.of(records), withoutWayBack(), colleague());
    }

    /**
     * Asks harder where there is no way back.
     *
     * @param consent what it takes then
     * @return the rule with that
     */
    default ConsentRule withoutWayBack(Consent consent) {
        return new GivenConsentRule(least(), numberBeyond(), Optional.of(consent), colleague());
    }

    /**
     * Has somebody else agree as well: a second pair of eyes.
     *
     * @return the rule with that
     */
    default ConsentRule withColleague() {
        return new GivenConsentRule(least(), numberBeyond(), withoutWayBack(), true);
    }

    /**
     * Returns what a deletion takes by this rule.
     *
     * @param records how many records of the table would go
     * @param reversible whether they can be brought back
     * @return the strictest of what applies
     */
    default Consent of(long records, boolean reversible) {
        Consent consent = least();
        if (numberBeyond().isPresent() && records > numberBeyond().getAsLong()) {
            consent = consent.and(Consent.NUMBER);
        }
        return reversible ? consent : consent.and(withoutWayBack().orElse(consent));
    }
}
