package dev.vacancy;

import java.sql.Connection;
import java.util.Optional;

/**
 * Whoever manages the application's transactions: a framework, most often. A {@link Vacancy} that knows it takes part in the transaction that is
 * open on the thread, and works in transactions of its own where none is.
 *
 * <p>It is called by each thread that works, and has to answer for that thread.
 *
 * @since 0.1
 */
public interface TransactionSource {
    /**
     * Returns the connection of the transaction that is open on this thread.
     *
     * @return an open connection that doesn't commit by itself and is neither committed, rolled back nor closed here; empty if none is
     *     open
     */
    Optional<Connection> open();

    /**
     * Does something when the transaction that is open on this thread has been committed, and never if it is rolled back.
     *
     * @param task what to do; it throws nothing
     */
    void afterCommit(Runnable task);

    /**
     * Tells whether the transaction that is open on this thread is for reading only, which not every driver knows.
     *
     * @return true if nothing may be written in it
     */
    default boolean isReadOnly() {
        return false;
    }

    /**
     * Says that nobody else manages transactions: a connection from the data source is in none of somebody's, whether or not it commits by
     * itself.
     *
     * @return a source in which no transaction is ever open
     */
    static TransactionSource none() {
        return new TransactionSource() {
            @Override
            public Optional<Connection> open() {
                return Optional.empty();
            }

            @Override
            public void afterCommit(Runnable task) {
                throw new IllegalStateException("No transaction is open");
            }
        };
    }
}
