package dev.vacancy.internal.failure;

import dev.vacancy.OutcomeUnknownException;
import java.sql.SQLException;
import java.util.UUID;

/**
 * Says that a commit wasn't answered.
 *
 * @since 0.1
 */
public final class UnknownOutcomes {
    private UnknownOutcomes() {}

    /**
     * Says that a commit wasn't answered.
     *
     * @param cause what the driver said
     * @return the failure
     */
    public static OutcomeUnknownException of(SQLException cause) {
        return new OutcomeUnknownException(
                null, "Look whether the records are still there before you do it again.", cause);
    }

    /**
     * Says that a run was cut off of which is written down what it means to do.
     *
     * @param run its id
     * @param cause what the driver said
     * @return the failure
     */
    public static OutcomeUnknownException cutOff(UUID run, Exception cause) {
        return new OutcomeUnknownException(
                run,
                "What it means to do is written down: it is finished, or taken back, when a Vacancy is made over this database after a"
                        + " minute. Make a new plan then.",
                cause);
    }

    /**
     * Says the same of a run.
     *
     * @param id its id, by which an audit trail would know it
     * @param unknown what is known of it without
     * @return the failure
     */
    public static OutcomeUnknownException of(UUID id, OutcomeUnknownException unknown) {
        return new OutcomeUnknownException(
                id,
                "Make a new plan when the database can be reached again: it tells whether the records are still there.",
                unknown.getCause());
    }
}
