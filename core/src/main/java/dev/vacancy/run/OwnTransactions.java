package dev.vacancy.run;

import dev.vacancy.failure.DatabaseException;
import java.sql.Connection;
import java.sql.SQLException;
import javax.sql.DataSource;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Takes a connection for each piece of work, and gives it back the way it came.
 *
 * @since 0.1
 */
public final class OwnTransactions implements Transactions {
    private static final Logger LOG = LoggerFactory.getLogger(OwnTransactions.class);

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
            Usual usual = Usual.of(connection);
            try {
                connection.setReadOnly(readOnly);
                connection.setTransactionIsolation(isolation);
                connection.setAutoCommit(false);
                T result = work.on(connection);
                connection.commit();
                return result;
            } catch (SQLException | RuntimeException | Error failure) {
                rollBack(connection, failure);
                throw failure;
            } finally {
                usual.restore(connection);
            }
        } catch (SQLException failure) {
            throw new DatabaseException(
                    "give or end a transaction", "Check that it can be reached and what its log says.", failure);
        }
    }

    /** The settings that a connection came with. */
    private record Usual(boolean autoCommit, int isolation, boolean readOnly) {
        static Usual of(Connection connection) throws SQLException {
            return new Usual(connection.getAutoCommit(), connection.getTransactionIsolation(), connection.isReadOnly());
        }

        /** By now the work is committed or taken back; a connection that fails only here must not make that look undone. */
        void restore(Connection connection) {
            try {
                connection.setAutoCommit(autoCommit);
                connection.setTransactionIsolation(isolation);
                connection.setReadOnly(readOnly);
            } catch (SQLException broken) {
                LOG.warn("A connection could not be given back the way it came", broken);
            }
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
