package dev.vacancy.confirm;

import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Plan;

/** The second pair of eyes. */
final class Colleague {
    private Colleague() {}

    /** Nobody is a colleague of themselves. */
    static void require(Plan plan, By other) {
        if (other.actor().equals(plan.by().actor())) {
            throw new InvalidRequestException(
                    FailureCode.NOT_AGREED,
                    other.actor() + " asks for this deletion and can't agree to it as a colleague.",
                    "Let somebody else look at the plan and agree.");
        }
    }
}
