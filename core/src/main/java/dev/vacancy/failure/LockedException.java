package dev.vacancy.failure;

import java.sql.SQLException;

/**
 * Someone else holds a record that the run needs, and did not let go of it within the time allowed. Nothing was
 * changed; the same approval can be run again.
 *
 * @since 0.1
 */
public final class LockedException extends VacancyException {
    private static final long serialVersionUID = 1L;

    /**
     * Describes what is held.
     *
     * @param table the table whose records are held, as people write it
     * @param cause what the driver said
     */
    public LockedException(String table, SQLException cause) {
        super(
                "Somebody else is changing records of " + table + " that this deletion needs.",
                "Nothing was changed; try again when they are done.",
                cause);
    }
}
