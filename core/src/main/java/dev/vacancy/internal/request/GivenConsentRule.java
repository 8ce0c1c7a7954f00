package dev.vacancy.internal.request;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import java.util.Optional;
import java.util.OptionalLong;

/** What an application has given as {@link ConsentRule}. */
public record GivenConsentRule(
        Consent least, OptionalLong numberBeyond, Optional<Consent> withoutWayBack, boolean colleague)
        implements ConsentRule {
    /** Refuses a number of records below none. */
    public GivenConsentRule {
        if (numberBeyond.isPresent() && numberBeyond.getAsLong() < 0) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    numberBeyond.getAsLong() + " is no number of records.",
                    "Give 0 or more, beyond which the number has to be typed.");
        }
    }
}
