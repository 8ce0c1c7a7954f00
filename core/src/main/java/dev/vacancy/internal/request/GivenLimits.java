package dev.vacancy.internal.request;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Limits;
import java.time.Duration;

/** What an application has given as {@link Limits}. */
public record GivenLimits(Duration lockWait, int keysHeld) implements Limits {
    public static final int USUAL_KEYS = 10_000;

    /** Refuses negative numbers. */
    public GivenLimits {
        if (lockWait.isNegative() || keysHeld < 0) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "A limit can't be negative: " + lockWait + ", " + keysHeld + ".",
                    "Give zero or more.");
        }
    }
}
