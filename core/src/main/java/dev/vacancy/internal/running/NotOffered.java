package dev.vacancy.internal.running;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;

/**
 * Refuses what is offered on relational databases only.
 *
 * @since 0.1
 */
public final class NotOffered {
    private NotOffered() {}

    /**
     * Says what it is.
     *
     * @param what the beginning of a sentence, such as {@code A bulk run}
     * @return the refusal
     */
    public static InvalidRequestException of(String what) {
        return new InvalidRequestException(
                FailureCode.NOT_OFFERED,
                what + " is offered on relational databases only.",
                "Leave it out, or keep these records in one.");
    }
}
