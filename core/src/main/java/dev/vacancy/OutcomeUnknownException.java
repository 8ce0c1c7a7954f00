package dev.vacancy;

import java.util.Optional;
import java.util.UUID;
import org.jspecify.annotations.Nullable;

/**
 * The connection was lost before the database had answered the commit, so nobody here knows whether it was done. It is the one failure after
 * which the data may have changed. Look before anything is run again.
 *
 * @since 0.1
 */
public final class OutcomeUnknownException extends VacancyException {
    private static final long serialVersionUID = 1L;

    private final UUID run;

    /**
     * Makes the exception.
     *
     * @param run the run's id, or null if it wasn't a run
     * @param remedy what to do
     * @param cause what the driver said
     */
    public OutcomeUnknownException(@Nullable UUID run, String remedy, Throwable cause) {
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
     * Returns the run.
     *
     * @return its id; empty if it wasn't a run
     */
    public Optional<UUID> run() {
        return Optional.ofNullable(run);
    }
}
