package dev.vacancy.run;

import dev.vacancy.failure.DatabaseException;
import dev.vacancy.failure.InvalidRequestException;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Savepoint;

/**
 * Works inside a transaction that the caller has open, and neither commits, rolls back nor closes it. A savepoint takes
 * back what was begun when the work fails, so that the caller can go on.
 *
 * @since 0.1
 */
public final class JoinedTransaction implements Transactions {
    private final Connection connection;

    /**
     * Joins the transaction of a connection.
     *
     * @param connection the caller's connection, with auto-commit off
     * @throws InvalidRequestException when it commits each statement by itself
     */
    public JoinedTransaction(Connection connection) {
        this.connection = connection;
        try {
            if (connection.getAutoCommit()) {
                throw new InvalidRequestException(
                        "The connection to join commits each statement by itself, so a deletion on it can't be all or"
                                + " nothing.",
                        "Call setAutoCommit(false) on it first.");
            }
        } catch (SQLException failure) {
            throw new DatabaseException("be joined", "Give an open connection.", failure);
        }
    }

    @Override
    public <T> T reading(Work<T> work) {
        return writing(work);
    }

    @Override
    public <T> T writing(Work<T> work) {
        try {
            Savepoint before = connection.setSavepoint();
            try {
                T result = work.on(connection);
                connection.releaseSavepoint(before);
                return result;
            } catch (SQLException | RuntimeException | Error failure) {
                rollBack(before, failure);
                throw failure;
            }
        } catch (SQLException failure) {
            throw new DatabaseException(
                    "work inside the joined transaction", "Roll that transaction back and try again.", failure);
        }
    }

    private void rollBack(Savepoint before, Throwable failure) {
        try {
            connection.rollback(before);
        } catch (SQLException worse) {
            failure.addSuppressed(worse);
        }
    }
}
