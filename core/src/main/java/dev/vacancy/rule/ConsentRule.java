package dev.vacancy.rule;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
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
 * @param least what it takes in any case
 * @param numberBeyond of more records of the table than these their number is typed; empty for any number
 * @param withoutWayBack what it takes where nothing keeps what the records were; empty for the same
 * @param colleague whether somebody else has to agree as well
 * @since 0.1
 */
public record ConsentRule(
        Consent least, OptionalLong numberBeyond, Optional<Consent> withoutWayBack, boolean colleague) {
    /** Refuses a number of records below none. */
    public ConsentRule {
        if (numberBeyond.isPresent() && numberBeyond.getAsLong() < 0) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    numberBeyond.getAsLong() + " is no number of records.",
                    "Give 0 or more, beyond which the number has to be typed.");
        }
    }

    /**
     * Starts with what it takes in any case.
     *
     * @param least that
     * @return the rule
     */
    public static ConsentRule atLeast(Consent least) {
        return new ConsentRule(least, OptionalLong.empty(), Optional.empty(), false);
    }

    /**
     * Has the number typed where many records go.
     *
     * @param records of more than so many
     * @return the rule with that
     */
    public ConsentRule numberBeyond(long records) {
        return new ConsentRule(least, OptionalLong.of(records), withoutWayBack, colleague);
    }

    /**
     * Asks harder where there is no way back.
     *
     * @param consent what it takes then
     * @return the rule with that
     */
    public ConsentRule withoutWayBack(Consent consent) {
        return new ConsentRule(least, numberBeyond, Optional.of(consent), colleague);
    }

    /**
     * Has somebody else agree as well: a second pair of eyes.
     *
     * @return the rule with that
     */
    public ConsentRule withColleague() {
        return new ConsentRule(least, numberBeyond, withoutWayBack, true);
    }

    /**
     * Returns what a deletion takes by this rule.
     *
     * @param records how many records of the table would go
     * @param reversible whether they can be brought back
     * @return the strictest of what applies
     */
    public Consent of(long records, boolean reversible) {
        Consent consent = least;
        if (numberBeyond.isPresent() && records > numberBeyond.getAsLong()) {
            consent = consent.and(Consent.NUMBER);
        }
        return reversible ? consent : consent.and(withoutWayBack.orElse(consent));
    }
}
