package dev.vacancy;

/** The second pair of eyes. */
final class Colleague {
    private Colleague() {}

    /** Nobody is a colleague of themselves, however they spell their name. */
    static void require(By asking, By other) {
        if (other.isSameAs(asking)) {
            throw new InvalidRequestException(
                    FailureCode.NOT_AGREED,
                    other.actor() + " asks for this deletion and can't agree to it as a colleague.",
                    "Let somebody else look at the plan and agree.");
        }
    }
}
