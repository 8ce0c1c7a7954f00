package dev.vacancy.dialect;

import dev.vacancy.failure.InvalidRequestException;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * What differs from database to database. One class for each; all else is standard SQL and lives in {@link Statements}.
 *
 * @since 0.1
 */
public interface Dialect {
    /**
     * Finds the dialect of the database behind a connection.
     *
     * @param connection an open connection
     * @return its dialect
     * @throws InvalidRequestException when there is none for it
     * @throws SQLException when the database doesn't answer
     */
    static Dialect of(Connection connection) throws SQLException {
        DatabaseMetaData database = connection.getMetaData();
        for (Dialect dialect : List.of(new H2Dialect(), new PostgresDialect())) {
            if (dialect.speaks(database)) {
                return dialect;
            }
        }
        throw new InvalidRequestException(
                "Vacancy has no dialect for the database '" + database.getDatabaseProductName() + "'.",
                "Use H2 or PostgreSQL.");
    }

    /**
     * Tells whether this dialect is the one for a database.
     *
     * @param database the metadata of an open connection
     * @return true if it is
     * @throws SQLException when the database doesn't answer
     */
    boolean speaks(DatabaseMetaData database) throws SQLException;

    /**
     * Tells whether a schema belongs to the database itself, so that its tables are left out of the catalog.
     *
     * @param schema the schema's name as stored
     * @return true for the database's own
     */
    boolean isSystemSchema(String schema);

    /**
     * Says that some columns hold one of the keys of a set. It is true or not true, and may be unknown for nulls.
     *
     * @param columns the columns, quoted
     * @param keys the keys, with as many values each as there are columns
     * @return a condition with one bound value for each column
     */
    Fragment among(List<String> columns, KeySet keys);

    /**
     * Binds a single value to be compared with a column.
     *
     * @param type the database's type name of the column
     * @param value a value of that type
     * @return a question mark, with whatever the database needs around it to take the value for that type
     */
    Fragment value(String type, Object value);

    /**
     * Limits how long this transaction waits for someone else's lock.
     *
     * @param limit the longest wait
     * @return the statement to run, or empty where the database has a limit of its own
     */
    Optional<Fragment> limitLockWait(Duration limit);

    /**
     * Tells whether a statement failed because someone else holds a lock.
     *
     * @param failure what the driver threw
     * @return true if a lock was waited for in vain, or this transaction was chosen to end a deadlock
     */
    boolean isLockFailure(SQLException failure);

    /**
     * Reads a value as the application would want it, detached from the result: {@code java.time} for dates and times,
     * text for character large objects, a read-only {@link java.nio.ByteBuffer} for binary, a list for arrays, text for
     * types that only the database knows.
     *
     * @param row a result on a row
     * @param index the column's position, from 1
     * @return the value, or null
     * @throws SQLException when the driver can't read it
     */
    default Object read(ResultSet row, int index) throws SQLException {
        return Values.detached(row, index);
    }

    /**
     * Quotes an identifier as a delimited identifier (ISO/IEC 9075-2, section 5.2).
     *
     * @param name the name as stored in the catalog
     * @return the name in double quotes
     */
    default String quote(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }
}
