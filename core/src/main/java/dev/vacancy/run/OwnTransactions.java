package dev.vacancy.run;

import dev.vacancy.failure.DatabaseException;
import java.sql.Connection;
import java.sql.SQLException;
import javax.sql.DataSource;

/**
 * Takes a connection for each piece of work, and gives it back the way it came.
 *
 * @since 0.1
 */
public final class OwnTransactions implements Transactions {
    private final DataSource dataSource;

    /**
     * Works on connections of a data source.
     *
     * @param dataSource where connections come from
     */
    public OwnTransactions(DataSource dataSource) {
        this.dataSource = dataSource;
    }

    @Override
    public <T> T reading(Work<T> work) {
        return within(Connection.TRANSACTION_REPEATABLE_READ, true, work);
    }

    @Override
    public <T> T writing(Work<T> work) {
        return within(Connection.TRANSACTION_READ_COMMITTED, false, work);
    }

    private <T> T within(int isolation, boolean readOnly, Work<T> work) {
        try (Connection connection = dataSource.getConnection()) {
            boolean autoCommit = connection.getAutoCommit();
            int usualIsolation = connection.getTransactionIsolation();
            boolean usuallyReadOnly = connection.isReadOnly();
            connection.setReadOnly(readOnly);
            connection.setTransactionIsolation(isolation);
            connection.setAutoCommit(false);
            try {
                T result = work.on(connection);
                connection.commit();
                return result;
            } catch (SQLException | RuntimeException | Error failure) {
                rollBack(connection, failure);
                throw failure;
            } finally {
                connection.setAutoCommit(autoCommit);
                connection.setTransactionIsolation(usualIsolation);
                connection.setReadOnly(usuallyReadOnly);
            }
        } catch (SQLException failure) {
            throw new DatabaseException(
                    "give or end a transaction", "Check that it can be reached and what its log says.", failure);
        }
    }

    private static void rollBack(Connection connection, Throwable failure) {
        try {
            connection.rollback();
        } catch (SQLException worse) {
            failure.addSuppressed(worse);
        }
    }
}
