package dev.vacancy.run;

import dev.vacancy.dialect.Dialect;
import dev.vacancy.dialect.Setting;
import dev.vacancy.failure.DatabaseException;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
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

    private static final Duration LONGEST_LOCK_WAIT = Duration.ofSeconds(5);

    private final DataSource dataSource;
    private final Dialect dialect;
    private final boolean enforced;

    private OwnTransactions(DataSource dataSource, Dialect dialect, boolean enforced) {
        this.dataSource = dataSource;
        this.dialect = dialect;
        this.enforced = enforced;
    }

    /**
     * Finds out what database a data source leads to.
     *
     * @param dataSource where connections come from
     * @return transactions on it
     * @throws DatabaseException when it can't be reached
     * @throws dev.vacancy.failure.InvalidRequestException when there is no dialect for it
     */
    public static OwnTransactions over(DataSource dataSource) {
        try (Connection connection = dataSource.getConnection()) {
            Dialect dialect = Dialect.of(connection);
            boolean enforced = dialect.enforcesLinks(connection);
            if (!enforced) {
                LOG.warn(
                        "{} doesn't enforce foreign keys on this data source's connections. Vacancy switches that on for"
                                + " its own work; switch it on for all others too, or they can leave orphans.",
                        dialect.name());
            }
            return new OwnTransactions(dataSource, dialect, enforced);
        } catch (SQLException failure) {
            throw unreachable(failure);
        }
    }

    /**
     * Returns the dialect of the database.
     *
     * @return the dialect
     */
    public Dialect dialect() {
        return dialect;
    }

    /**
     * Tells whether the data source's connections enforce declared links by themselves.
     *
     * @return true unless enforcement is switched off on them
     */
    public boolean isEnforced() {
        return enforced;
    }

    @Override
    public <T> T reading(Work<T> work) {
        return within(dialect.readingIsolation(), true, work);
    }

    @Override
    public <T> T writing(Work<T> work) {
        return within(dialect.writingIsolation(), false, work);
    }

    private <T> T within(int isolation, boolean readOnly, Work<T> work) {
        try (Connection connection = dataSource.getConnection()) {
            Usual usual = new Usual(
                    connection.getAutoCommit(),
                    connection.getTransactionIsolation(),
                    connection.isReadOnly(),
                    new ArrayList<>());
            try {
                begin(connection, isolation, readOnly, usual.settings);
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
            throw unreachable(failure);
        }
    }

    private void begin(Connection connection, int isolation, boolean readOnly, List<Setting> before)
            throws SQLException {
        connection.setAutoCommit(true);
        for (Setting setting : dialect.settings(LONGEST_LOCK_WAIT)) {
            before.add(setting.apply(connection));
        }
        if (dialect.takesReadOnly()) {
            connection.setReadOnly(readOnly);
        }
        connection.setTransactionIsolation(isolation);
        connection.setAutoCommit(false);
    }

    private static DatabaseException unreachable(SQLException failure) {
        return new DatabaseException(
                "give or end a transaction", "Check that it can be reached and what its log says.", failure);
    }

    /** What a connection came with. */
    private record Usual(boolean autoCommit, int isolation, boolean readOnly, List<Setting> settings) {
        /** By now the work is committed or taken back; a connection that fails only here must not make that look undone. */
        void restore(Connection connection) {
            try {
                connection.setAutoCommit(true);
                for (Setting setting : settings) {
                    setting.apply(connection);
                }
                connection.setTransactionIsolation(isolation);
                if (connection.isReadOnly() != readOnly) {
                    connection.setReadOnly(readOnly);
                }
                connection.setAutoCommit(autoCommit);
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
