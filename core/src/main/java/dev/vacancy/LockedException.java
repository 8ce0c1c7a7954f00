package dev.vacancy;

import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import org.jspecify.annotations.Nullable;

/**
 * Someone else holds a record that the run needs, and did not let go of it within the time allowed. Nothing was
 * changed; the same approval can be run again.
 *
 * @since 0.1
 */
public final class LockedException extends VacancyException {
    private static final long serialVersionUID = 1L;

    private final String table;
    private final transient List<String> records;

    /**
     * Makes the exception.
     *
     * @param code {@link FailureCode#LOCKED}, or {@link FailureCode#TRY_AGAIN} where the database or a hold has ended the transaction
     * @param problem what was in the way
     * @param remedy what to do
     * @param table the table whose records are held
     * @param records the keys of the held records as text; empty if that isn't known
     * @param cause what the driver said, or null
     */
    public LockedException(
            FailureCode code,
            String problem,
            String remedy,
            String table,
            List<String> records,
            @Nullable Exception cause) {
        super(code, problem, remedy, cause);
        this.table = table;
        this.records = List.copyOf(records);
        addDetail("table", table);
    }

    /**
     * Returns the SQLSTATE that the driver gave (ISO/IEC 9075-2, section 24).
     *
     * @return five characters, such as 40001 for transactions that can't be put into an order; empty when there is none
     */
    public Optional<String> sqlState() {
        return getCause() instanceof SQLException sql ? Optional.ofNullable(sql.getSQLState()) : Optional.empty();
    }

    /**
     * Returns the table whose records are held.
     *
     * @return its name
     */
    public String table() {
        return table;
    }

    /**
     * Returns the records that are held.
     *
     * @return their keys, empty where the database couldn't tell
     */
    public List<String> records() {
        return records;
    }
}
