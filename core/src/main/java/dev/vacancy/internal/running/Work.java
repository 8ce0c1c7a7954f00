package dev.vacancy.internal.running;

import java.sql.Connection;
import java.sql.SQLException;

/**
 * Something to do with a connection.
 *
 * @param <T> what comes of it
 * @since 0.1
 */
@FunctionalInterface
public interface Work<T> {
    /**
     * Does it.
     *
     * @param connection an open connection in a transaction; not to be committed, rolled back or closed
     * @return what comes of it
     * @throws SQLException when the database refuses
     */
    T on(Connection connection) throws SQLException;
}
