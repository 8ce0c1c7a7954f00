package dev.vacancy.internal.running;

import java.sql.Connection;
import java.util.Optional;

/**
 * The transaction that the application has open on this thread.
 *
 * @since 0.1
 */
public interface OpenTransaction {
    /**
     * Returns its connection.
     *
     * @return the connection; empty if none is open
     */
    Optional<Connection> connection();

    /**
     * Tells whether it is for reading only.
     *
     * @return true if nothing may be written in it
     */
    boolean isReadOnly();
}
