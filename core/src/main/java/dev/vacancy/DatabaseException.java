package dev.vacancy;

import java.sql.SQLException;
import java.util.Optional;

/**
 * The database could not be reached, or refused a statement. The transaction was rolled back.
 *
 * @since 0.1
 */
public final class DatabaseException extends VacancyException {
    private static final long serialVersionUID = 1L;

    /**
     * Describes a failed statement or connection.
     *
     * @param attempt what was being done, such as {@code "delete from hive"}
     * @param remedy what to do next
     * @param cause what the driver said
     */
    public DatabaseException(String attempt, String remedy, Exception cause) {
        this(FailureCode.DATABASE, attempt, remedy, cause);
    }

    /**
     * Describes a failed statement or connection.
     *
     * @param code what kind of failure it is
     * @param attempt what was being done, such as {@code "delete from hive"}
     * @param remedy what to do next
     * @param cause what the driver said
     */
    public DatabaseException(FailureCode code, String attempt, String remedy, Exception cause) {
        super(code, "The database failed to " + attempt + ": " + firstLine(cause) + ".", remedy, cause);
    }

    /**
     * Returns the SQLSTATE that the driver gave (ISO/IEC 9075-2, section 24).
     *
     * @return five characters, or empty when the driver gave none, or speaks no SQL
     */
    public Optional<String> sqlState() {
        return getCause() instanceof SQLException cause ? Optional.ofNullable(cause.getSQLState()) : Optional.empty();
    }

    private static String firstLine(Exception cause) {
        String message = cause.getMessage() == null ? cause.getClass().getSimpleName() : cause.getMessage();
        String line = message.lines().findFirst().orElse("").strip();
        int statement = line.indexOf("; SQL statement:");
        if (statement >= 0) {
            line = line.substring(0, statement);
        }
        return line.endsWith(".") ? line.substring(0, line.length() - 1) : line;
    }
}
