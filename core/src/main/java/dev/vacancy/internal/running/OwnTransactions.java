package dev.vacancy.internal.running;

import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Limits;
import dev.vacancy.LockedException;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.VacancyException;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Setting;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalInt;
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
    private final Dialect dialect;
    private final boolean enforced;
    private final Duration lockWait;
    private final boolean alone;

    private OwnTransactions(
            DataSource dataSource, Dialect dialect, boolean enforced, Duration lockWait, boolean alone) {
        this.alone = alone;
        this.dataSource = dataSource;
        this.dialect = dialect;
        this.enforced = enforced;
        this.lockWait = lockWait;
    }

    /**
     * Finds out what database a data source leads to.
     *
     * @param dataSource where connections come from
     * @return transactions on it
     * @throws DatabaseException when it can't be reached
     * @throws dev.vacancy.InvalidRequestException when there is no dialect for it
     */
    public static OwnTransactions over(DataSource dataSource) {
        return over(dataSource, false);
    }

    /**
     * Does the same where it may be known that no connection is inside somebody else's transaction.
     *
     * @param dataSource where connections come from
     * @param alone true if a connection that doesn't commit by itself is in nobody's transaction all the same
     * @return transactions on it
     * @throws DatabaseException when it can't be reached
     */
    public static OwnTransactions over(DataSource dataSource, boolean alone) {
        try (Connection connection = dataSource.getConnection()) {
            Dialect dialect = Dialect.of(connection);
            boolean enforced = dialect.enforcesLinks(connection);
            if (!enforced) {
                LOG.warn(
                        "{} doesn't enforce foreign keys on this data source's connections. Vacancy switches that on for"
                                + " its own work; switch it on for all others too, or they can leave orphans.",
                        dialect.name());
            }
            return new OwnTransactions(
                    dataSource, dialect, enforced, Limits.defaults().lockWait(), alone);
        } catch (SQLException failure) {
            throw unreachable(failure);
        }
    }

    @Override
    public OwnTransactions waiting(Duration longest) {
        return new OwnTransactions(dataSource, dialect, enforced, longest, alone);
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
    public OwnTransactions flushing(Runnable flush) {
        return this;
    }

    @Override
    public <T> T reading(Work<T> work) {
        return within(false, dialect.settings(lockWait), work);
    }

    @Override
    public <T> T writing(Work<T> work) {
        return within(true, dialect.settings(lockWait), work);
    }

    @Override
    public <T> T reshaping(Work<T> work) {
        return within(true, dialect.reshaping().settings(lockWait), work);
    }

    private <T> T within(boolean writing, List<Setting> settings, Work<T> work) {
        try (Connection connection = dataSource.getConnection()) {
            if (!alone) {
                refuseSomebodyElses(connection);
            }
            if (writing && connection.isReadOnly()) {
                throw readOnly("The data source's connection");
            }
            OptionalInt isolation = dialect.isolation(writing);
            Usual usual = Usual.of(connection, isolation.isPresent());
            try {
                begin(connection, writing, isolation, settings, usual.settings);
                T result = work.on(connection);
                commit(connection, writing);
                return result;
            } catch (OutcomeUnknownException unknown) {
                // There is nobody left to roll back with.
                throw unknown;
            } catch (SQLException | RuntimeException | Error failure) {
                rollBack(connection, failure);
                refuseUnfit(failure);
                throw failure;
            } finally {
                usual.restore(connection);
            }
        } catch (SQLException failure) {
            refuseUnfit(failure);
            throw unreachable(failure);
        }
    }

    /** What no other data would have changed is told as what it is: a replica, a pooler, a node that has lost the others. */
    private void refuseUnfit(Throwable failure) {
        SQLException said = failure instanceof SQLException sql
                ? sql
                : failure instanceof VacancyException && failure.getCause() instanceof SQLException cause
                        ? cause
                        : null;
        if (said == null) {
            return;
        }
        if (isReadOnly(said)) {
            throw readOnly("The database, a replica perhaps,");
        }
        dialect.unfit(said).ifPresent(unfit -> {
            InvalidRequestException refusal =
                    new InvalidRequestException(FailureCode.UNFIT_CONNECTION, unfit.problem(), unfit.remedy());
            refusal.addSuppressed(failure);
            throw refusal;
        });
    }

    /** To end a transaction that somebody else began would commit work that nobody asked us to commit. */
    private static void refuseSomebodyElses(Connection connection) throws SQLException {
        if (!connection.getAutoCommit()) {
            throw new InvalidRequestException(
                    FailureCode.FOREIGN_TRANSACTION,
                    "The data source gave a connection that doesn't commit by itself, so it may be inside a transaction of"
                            + " the application's, which Vacancy must not end.",
                    "Join that transaction with vacancy.joining(connection), or say by a TransactionSource who manages"
                            + " transactions: TransactionSource.none() if nobody does.");
        }
    }

    /** Whoever gave out a connection for reading only doesn't want it to write, even where the database could be told to. */
    static InvalidRequestException readOnly(String what) {
        return new InvalidRequestException(
                FailureCode.READ_ONLY,
                what + " is for reading only.",
                "Nothing was changed; run where records may be written.");
    }

    /** Whether the database has refused to write in a transaction that only reads (ISO/IEC 9075-2, section 24.1: class 25). */
    static boolean isReadOnly(SQLException failure) {
        return "25006".equals(failure.getSQLState());
    }

    private void begin(
            Connection connection, boolean writing, OptionalInt isolation, List<Setting> settings, List<Setting> before)
            throws SQLException {
        if (!connection.getAutoCommit()) {
            connection.setAutoCommit(true);
        }
        for (Setting setting : settings) {
            before.add(setting.apply(connection));
        }
        if (isolation.isPresent()) {
            connection.setTransactionIsolation(isolation.getAsInt());
        }
        connection.setAutoCommit(false);
        for (String beginning : writing ? dialect.beginWriting(lockWait) : dialect.beginReading()) {
            try (Statement statement = connection.createStatement()) {
                statement.execute(beginning);
            }
        }
    }

    /** What is checked only now, by a trigger that was put off for instance, can still refuse. */
    private void commit(Connection connection, boolean writing) throws SQLException {
        try {
            connection.commit();
        } catch (SQLException refused) {
            if (isConflict(refused)) {
                throw LockedException.ofConflict(dialect.name(), refused);
            }
            if (dialect.isLockFailure(refused)) {
                throw LockedException.ofDatabase(dialect.name(), refused);
            }
            if (writing && isUnanswered(refused, connection)) {
                throw OutcomeUnknownException.of(refused);
            }
            throw new DatabaseException(
                    FailureCode.COMMIT_REFUSED,
                    "commit",
                    "Nothing was changed; fix what it names and run again.",
                    refused);
        }
    }

    /** The transaction was ended for the sake of another one (ISO/IEC 9075-2, section 24.1: class 40). */
    private static boolean isConflict(SQLException refused) {
        return String.valueOf(refused.getSQLState()).startsWith("40") && !"40003".equals(refused.getSQLState());
    }

    /** Whoever refuses says so, and goes on; a lost connection or an ended session may have committed before. */
    private static boolean isUnanswered(SQLException refused, Connection connection) {
        String state = refused.getSQLState();
        if (state == null || state.startsWith("08") || state.startsWith("57P") || state.equals("40003")) {
            return true;
        }
        try {
            return !connection.isValid(1);
        } catch (SQLException gone) {
            refused.addSuppressed(gone);
            return true;
        }
    }

    private static DatabaseException unreachable(SQLException failure) {
        return new DatabaseException(
                "give or end a transaction", "Check that it can be reached and what its log says.", failure);
    }

    /** What a connection came with. */
    private record Usual(OptionalInt isolation, List<Setting> settings, boolean autoCommit) {
        /** To ask for the isolation is a round trip, and needless where it is set for the transaction alone. */
        static Usual of(Connection connection, boolean changingIsolation) throws SQLException {
            return new Usual(
                    changingIsolation ? OptionalInt.of(connection.getTransactionIsolation()) : OptionalInt.empty(),
                    new ArrayList<>(),
                    connection.getAutoCommit());
        }

        /** By now the work is committed or taken back; a connection that fails only here must not make that look undone. */
        void restore(Connection connection) {
            try {
                connection.setAutoCommit(true);
                for (Setting setting : settings) {
                    setting.apply(connection);
                }
                if (isolation.isPresent() && connection.getTransactionIsolation() != isolation.getAsInt()) {
                    connection.setTransactionIsolation(isolation.getAsInt());
                }
                if (!autoCommit) {
                    connection.setAutoCommit(false);
                }
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
