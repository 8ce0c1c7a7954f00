package dev.vacancy.internal.running;

import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Limits;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.VacancyException;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Setting;
import dev.vacancy.internal.dialect.UnfitConnection;
import dev.vacancy.internal.failure.LockFailures;
import dev.vacancy.internal.failure.UnknownOutcomes;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.SQLWarning;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
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
    private final DataSource reader;
    private final Dialect dialect;
    private final boolean enforced;
    private final Duration lockWait;
    private final boolean alone;

    private OwnTransactions(
            DataSource dataSource,
            DataSource reader,
            Dialect dialect,
            boolean enforced,
            Duration lockWait,
            boolean alone) {
        this.alone = alone;
        this.dataSource = dataSource;
        this.reader = reader;
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
                    dataSource, dataSource, dialect, enforced, Limits.defaults().lockWait(), alone);
        } catch (SQLException failure) {
            throw unreachable(failure);
        }
    }

    @Override
    public OwnTransactions waiting(Duration longest) {
        return new OwnTransactions(dataSource, reader, dialect, enforced, longest, alone);
    }

    /**
     * Returns the same, but that what is only looked at is read elsewhere.
     *
     * @param other leads to a server that follows the one that writes
     * @return the other transactions
     * @throws InvalidRequestException when it leads to another database
     */
    public OwnTransactions lookingAt(DataSource other) {
        OwnTransactions looking = new OwnTransactions(dataSource, other, dialect, enforced, lockWait, alone);
        Work<String> identity = connection -> dialect.whereabouts(connection).database();
        String there = looking.looking(identity);
        String here = reading(identity);
        if (!there.equals(here)) {
            throw new InvalidRequestException(
                    FailureCode.UNFIT_CONNECTION,
                    "The data source to read from leads to another database than the one to write to: '" + there
                            + "', and not '" + here + "'.",
                    "Give one that leads to a replica of the same database, by the replication of the database itself.");
        }
        return looking;
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
    public <T> T looking(Work<T> work) {
        return within(reader, false, dialect.settings(lockWait), work);
    }

    @Override
    public Optional<String> behind() {
        if (reader == dataSource) {
            return Optional.empty();
        }
        String unknown = "nobody knows how far that is behind";
        try {
            Optional<Duration> age = looking(dialect::replayDelay);
            return Optional.of(age.map(time -> "the last that it knows of is " + time.toSeconds() + " seconds old")
                    .orElse(unknown));
        } catch (VacancyException unreachable) {
            LOG.debug("Nobody tells how far the server is behind that is read from", unreachable);
            return Optional.of(unknown);
        }
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
        return within(dataSource, writing, settings, work);
    }

    private <T> T within(DataSource source, boolean writing, List<Setting> settings, Work<T> work) {
        try (Connection connection = source.getConnection()) {
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
                tellConflict(failure);
                throw failure;
            } finally {
                usual.restore(connection);
            }
        } catch (SQLException failure) {
            refuseUnfit(failure);
            tellConflict(failure);
            throw unreachable(failure);
        }
    }

    /** A transaction that the database has ended for the sake of another one may be told so by whatever comes next, even by a query. */
    private void tellConflict(Throwable failure) {
        if (failure instanceof SQLException said && isConflict(said)) {
            throw LockFailures.ofConflict(dialect.name(), said);
        }
        if (failure instanceof DatabaseException told
                && told.getCause() instanceof SQLException said
                && isConflict(said)) {
            throw LockFailures.ofConflict(dialect.name(), said);
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
        dialect.unfit(said).ifPresent(unfit -> refuse(unfit, failure));
    }

    private static void refuse(UnfitConnection unfit, Throwable failure) {
        InvalidRequestException refusal =
                new InvalidRequestException(FailureCode.UNFIT_CONNECTION, unfit.problem(), unfit.remedy());
        refusal.addSuppressed(failure);
        throw refusal;
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
            Connection connection, boolean writing, OptionalInt isolation, List<Setting> settings, List<String> before)
            throws SQLException {
        if (!connection.getAutoCommit()) {
            connection.setAutoCommit(true);
        }
        for (Setting setting : settings) {
            setting.apply(connection).ifPresent(before::add);
        }
        if (isolation.isPresent()) {
            connection.setTransactionIsolation(isolation.getAsInt());
        }
        connection.setAutoCommit(false);
        for (String beginning : writing ? dialect.beginWriting(lockWait) : dialect.beginReading()) {
            try (Statement statement = connection.createStatement()) {
                statement.execute(beginning);
            } catch (SQLException failure) {
                if (writing && dialect.refusesToWrite(failure)) {
                    throw readOnly("The database, a replica perhaps,");
                }
                dialect.unfitToBegin(failure).ifPresent(unfit -> refuse(unfit, failure));
                throw failure;
            }
        }
    }

    /** What is checked only now, by a trigger that was put off for instance, can still refuse. */
    private void commit(Connection connection, boolean writing) throws SQLException {
        List<String> steps = writing ? dialect.commitAwaitingOthers() : List.of();
        try {
            for (String step : steps) {
                commit(connection, step, step.equals(steps.get(steps.size() - 1)));
            }
            connection.commit();
        } catch (SQLException refused) {
            if (isConflict(refused)) {
                throw LockFailures.ofConflict(dialect.name(), refused);
            }
            if (dialect.isLockFailure(refused)) {
                throw LockFailures.ofDatabase(dialect.name(), refused);
            }
            if (writing && isUnanswered(refused, connection)) {
                throw UnknownOutcomes.of(refused);
            }
            throw new DatabaseException(
                    FailureCode.COMMIT_REFUSED,
                    "commit",
                    "Nothing was changed; fix what it names and run again.",
                    refused);
        }
    }

    /** It is committed when it only waits, so what is said then is no failure: that no replica has confirmed it in time. */
    private void commit(Connection connection, String step, boolean last) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            if (last) {
                statement.setQueryTimeout((int) Math.max(1, lockWait.toSeconds()));
            }
            statement.execute(step);
            for (SQLWarning said = statement.getWarnings(); said != null; said = said.getNextWarning()) {
                LOG.warn("The database has committed, and says: {}", said.getMessage());
            }
        }
    }

    /** The transaction was ended for the sake of another one (ISO/IEC 9075-2, section 24.1: class 40). */
    private static boolean isConflict(SQLException refused) {
        return String.valueOf(refused.getSQLState()).startsWith("40") && !"40003".equals(refused.getSQLState());
    }

    /** Whoever refuses says so, and goes on; a lost connection or an ended session may have committed before. */
    private static boolean isUnanswered(SQLException refused, Connection connection) {
        if (LostConnection.isOne(refused)) {
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
    private record Usual(OptionalInt isolation, List<String> settings, boolean autoCommit) {
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
                Setting.putBack(settings, connection);
                if (isolation.isPresent() && connection.getTransactionIsolation() != isolation.getAsInt()) {
                    connection.setTransactionIsolation(isolation.getAsInt());
                }
                if (!autoCommit) {
                    connection.setAutoCommit(false);
                }
            } catch (SQLException broken) {
                LOG.warn("A connection could not be given back the way it came, so it is closed", broken);
                close(connection);
            }
        }
    }

    /** Whoever got it next from a pool would be inside a transaction of ours, with its locks. */
    private static void close(Connection connection) {
        try {
            connection.abort(Runnable::run);
        } catch (SQLException gone) {
            LOG.debug("A connection that could not be given back could not be closed either", gone);
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
