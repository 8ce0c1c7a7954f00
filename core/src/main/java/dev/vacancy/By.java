package dev.vacancy;

import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Who wants the deletion, and why.
 *
 * @param actor a user's or program's name, not blank
 * @param reason why, in that person's words, or empty
 * @param isProgram whether it is a program and not a person
 * @since 0.1
 */
public record By(String actor, Optional<String> reason, boolean isProgram) {
    private static final int LONGEST_ACTOR = 200;
    private static final int LONGEST_REASON = 1_000;

    /** Refuses an actor without a name, and what no audit trail has room for. */
    public By {
        if (actor == null || actor.isBlank()) {
            throw new InvalidRequestException(
                    FailureCode.NO_ACTOR,
                    "A deletion needs somebody who asks for it.",
                    "Give the name of the user or program.");
        }
        requireRoom("name", actor, LONGEST_ACTOR);
        reason.ifPresent(text -> requireRoom("reason", text, LONGEST_REASON));
    }

    /** What is written down of each deletion has its place, and nothing is cut from it silently. */
    private static void requireRoom(String what, String text, int most) {
        if (text.length() > most) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "The " + what + " has " + text.length() + " characters, and may have " + most + ".",
                    "Say it in fewer words.");
        }
    }

    /**
     * Names a person, with or without a reason.
     *
     * @param actor the name by which the application knows the user
     * @param reason why, or empty
     * @throws InvalidRequestException when the name is blank or has more than 200 characters, or the reason has more than 1,000
     */
    public By(String actor, Optional<String> reason) {
        this(actor, reason, false);
    }

    /**
     * Names a person.
     *
     * @param name the name by which the application knows the user
     * @return who asks, without a reason
     * @throws InvalidRequestException when the name is blank or has more than 200 characters
     */
    public static By user(String name) {
        return new By(name, Optional.empty());
    }

    /**
     * Names a program.
     *
     * @param name the name by which people know it, such as that of a nightly job
     * @return who asks, without a reason
     * @throws InvalidRequestException when the name is blank or has more than 200 characters
     */
    public static By program(String name) {
        return new By(name, Optional.empty(), true);
    }

    /**
     * Tells whether two names stand for one person.
     *
     * @param other somebody
     * @return true if the names are the same but for case and blanks around them
     */
    public boolean isSameAs(By other) {
        return actor.strip().equalsIgnoreCase(other.actor().strip());
    }

    /**
     * Adds the reason.
     *
     * @param reason why, in that person's words; null means none
     * @return who asks, and why
     * @throws InvalidRequestException when it is blank, which tells nobody anything
     */
    public By because(@Nullable String reason) {
        if (reason != null && reason.isBlank()) {
            throw new InvalidRequestException(
                    FailureCode.USAGE, "The reason '" + reason + "' is blank.", "Say why, or leave it out.");
        }
        return new By(actor, Optional.ofNullable(reason), isProgram);
    }
}
