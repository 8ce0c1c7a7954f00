package dev.vacancy;

import java.sql.SQLException;
import java.util.Optional;
import java.util.UUID;

/**
 * The connection was lost before the database had answered the commit, so nobody here knows whether it was done. It is the one failure after
 * which the data may have changed. Look before anything is run again.
 *
 * @since 0.1
 */
public final class OutcomeUnknownException extends VacancyException {
    private static final long serialVersionUID = 1L;

    private final UUID run;

    private OutcomeUnknownException(UUID run, String remedy, Throwable cause) {
        super(
                FailureCode.OUTCOME_UNKNOWN,
                "The connection was lost before the database had answered the commit"
                        + (run == null ? "" : " of run " + run)
                        + ": what was to be done is done, or nothing of it is.",
                remedy,
                cause);
        this.run = run;
        if (run != null) {
            addDetail("run", run);
        }
    }

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
     * @return the failure
     */
    public OutcomeUnknownException of(UUID id) {
        return new OutcomeUnknownException(
                id,
                "Make a new plan when the database can be reached again: it tells whether the records are still there.",
                getCause());
    }

    /**
     * Returns the run.
     *
     * @return its id; empty if it wasn't a run
     */
    public Optional<UUID> run() {
        return Optional.ofNullable(run);
    }
}
