package dev.vacancy.internal.request;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;

/** How many of something are wanted at most. */
public final class Most {
    private Most() {}

    /**
     * Refuses to give none, which some drivers take for all.
     *
     * @param most how many at most
     * @throws InvalidRequestException when it is less than one
     */
    public static void require(long most) {
        if (most < 1) {
            throw new InvalidRequestException(FailureCode.USAGE, "At most " + most + " is none.", "Ask for 1 or more.");
        }
    }
}
