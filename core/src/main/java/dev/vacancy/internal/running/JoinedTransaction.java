package dev.vacancy.internal.running;

import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.TransactionEndedException;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Setting;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalInt;
import java.util.concurrent.atomic.AtomicBoolean;

/**
 * Works inside a transaction that the caller has open, and neither commits, rolls back nor closes it. A savepoint takes
 * back what was begun when the work fails, so that the caller can go on; what was set on the connection is put back.
 *
 * @since 0.1
 */
public final class JoinedTransaction implements Transactions {
    /** What is to be flushed where nothing is held back. */
    static final Runnable NOTHING = () -> {};

    private final Connection connection;
    private final Dialect dialect;
    private final Duration lockWait;
    private final boolean readOnly;
    private final AtomicBoolean ended;
    private final Runnable flush;

    /**
     * Joins the transaction of a connection.
     *
     * @param connection the caller's connection, with auto-commit off
     * @param dialect the dialect of its database
     * @param lockWait how long to wait for someone else's lock
     * @throws InvalidRequestException when it commits each statement by itself
     */
    public JoinedTransaction(Connection connection, Dialect dialect, Duration lockWait) {
        this(connection, dialect, lockWait, false);
    }

    /**
     * Does the same where it is known whether it is for reading only.
     *
     * @param connection the caller's connection, with auto-commit off
     * @param dialect the dialect of its database
     * @param lockWait how long to wait for someone else's lock
     * @param readOnly whether nothing may be written in it
     */
    public JoinedTransaction(Connection connection, Dialect dialect, Duration lockWait, boolean readOnly) {
        this(connection, dialect, lockWait, readOnly, new AtomicBoolean(), NOTHING);
        try {
            if (connection.getAutoCommit()) {
                throw new InvalidRequestException(
                        FailureCode.NO_TRANSACTION,
                        "The connection to join commits each statement by itself, so a deletion on it can't be all or"
                                + " nothing.",
                        "Call setAutoCommit(false) on it first.");
            }
        } catch (SQLException failure) {
            throw new DatabaseException("be joined", "Give an open connection.", failure);
        }
    }

    private JoinedTransaction(
            Connection connection,
            Dialect dialect,
            Duration lockWait,
            boolean readOnly,
            AtomicBoolean ended,
            Runnable flush) {
        this.connection = connection;
        this.dialect = dialect;
        this.lockWait = lockWait;
        this.readOnly = readOnly;
        this.ended = ended;
        this.flush = flush;
    }

    @Override
    public JoinedTransaction waiting(Duration longest) {
        return new JoinedTransaction(connection, dialect, longest, readOnly, ended, flush);
    }

    @Override
    public JoinedTransaction flushing(Runnable first) {
        return new JoinedTransaction(connection, dialect, lockWait, readOnly, ended, first);
    }

    @Override
    public <T> T reading(Work<T> work) {
        return within(work);
    }

    @Override
    public <T> T writing(Work<T> work) {
        try {
            if (readOnly || connection.isReadOnly()) {
                throw OwnTransactions.readOnly("The transaction to join");
            }
        } catch (SQLException failure) {
            throw new DatabaseException("be joined", "Give an open connection.", failure);
        }
        return within(work);
    }

    @Override
    public <T> T reshaping(Work<T> work) {
        throw new InvalidRequestException(
                FailureCode.FOREIGN_TRANSACTION,
                "A column or a table retires in transactions of its own, and can't be part of the application's.",
                "Do it from a Vacancy over the data source, with no transaction open.");
    }

    private <T> T within(Work<T> work) {
        if (ended.get()) {
            throw new TransactionEndedException("The database has ended this transaction already.", null);
        }
        if (!readOnly) {
            flush.run();
        }
        try {
            Savepoint start = connection.setSavepoint();
            List<String> before = new ArrayList<>();
            try {
                for (Setting setting : dialect.settingsInside(lockWait)) {
                    setting.apply(connection).ifPresent(before::add);
                }
                T result = work.on(connection);
                connection.releaseSavepoint(start);
                return result;
            } catch (SQLException | RuntimeException | Error failure) {
                rollBack(start, failure);
                throw failure;
            } finally {
                if (!ended.get()) {
                    Setting.putBack(before, connection);
                }
            }
        } catch (SQLException failure) {
            if (OwnTransactions.isReadOnly(failure)) {
                throw OwnTransactions.readOnly("The transaction to join");
            }
            throw new DatabaseException(
                    "work inside the joined transaction", "Roll that transaction back and try again.", failure);
        }
    }

    @Override
    public boolean isJoined() {
        return true;
    }

    /** A round trip with most drivers. */
    @Override
    public OptionalInt joinedAt() {
        try {
            return OptionalInt.of(connection.getTransactionIsolation());
        } catch (SQLException failure) {
            throw new DatabaseException("tell the joined transaction's level", "Give an open connection.", failure);
        }
    }

    /** Where the savepoint is gone, all that the application has written before is gone with it. */
    private void rollBack(Savepoint before, Throwable failure) {
        try {
            connection.rollback(before);
        } catch (SQLException gone) {
            ended.set(true);
            gone.addSuppressed(failure);
            throw new TransactionEndedException(
                    "The database has ended the whole of the joined transaction, with all that the application had written"
                            + " in it before.",
                    gone);
        }
    }
}
