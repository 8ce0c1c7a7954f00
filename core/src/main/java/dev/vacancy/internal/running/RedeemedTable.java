package dev.vacancy.internal.running;

import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Proposal;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.failure.LockFailures;
import dev.vacancy.internal.tables.OwnTables;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;

/**
 * The table of approvals that were redeemed, each with what came of it, in SQL that all databases share. It is written in the transaction of the run.
 *
 * @since 0.1
 */
public final class RedeemedTable implements RedeemedApprovals {
    private static final String NAME = "vacancy_redeemed";
    private static final int MOST_FORGOTTEN = 1_000;

    private final Transactions transactions;
    private final Dialect dialect;
    private final Clock clock;
    private final Duration lockWait;

    /**
     * Finds the table.
     *
     * @param transactions where it is read and written
     * @param dialect the dialect of the database
     * @param clock tells when something is done
     * @param lockWait how long to wait for somebody who redeems the same
     */
    public RedeemedTable(Transactions transactions, Dialect dialect, Clock clock, Duration lockWait) {
        this.transactions = transactions;
        this.dialect = dialect;
        this.clock = clock;
        this.lockWait = lockWait;
    }

    @Override
    public void require() {
        if (!new Preparation(List.of(OwnTables.REDEEMED), dialect, transactions)
                .missing()
                .isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.NO_APPROVAL_TABLE,
                    "The table that holds which approvals were redeemed is missing, or of an earlier version: " + NAME
                            + ".",
                    "Make it: Ddl.of(dataSource, Ddl.Part.APPROVALS).apply(), or 'vacancy ddl --apply'.");
        }
    }

    @Override
    public Optional<StoredReceipt> find(String approval) {
        return transactions.reading(connection -> find(connection, approval));
    }

    private static Optional<StoredReceipt> find(Connection connection, String approval) throws SQLException {
        try (PreparedStatement query = connection.prepareStatement(
                "select " + String.join(", ", StoredReceipt.NAMES) + " from " + NAME + " where approval_id = ?")) {
            query.setString(1, approval);
            try (ResultSet row = query.executeQuery()) {
                if (!row.next()) {
                    return Optional.empty();
                }
                List<String> texts = new ArrayList<>();
                for (int column = 1; column <= StoredReceipt.NAMES.size(); column++) {
                    texts.add(row.getString(column));
                }
                return Optional.of(StoredReceipt.read(name -> texts.get(StoredReceipt.NAMES.indexOf(name))));
            }
        }
    }

    @Override
    public void forget(Instant expiredBefore) {
        if (transactions.isJoined()) {
            return;
        }
        List<String> old = transactions.reading(connection -> old(connection, expiredBefore));
        if (!old.isEmpty()) {
            transactions.writing(connection -> {
                forget(connection, old);
                return null;
            });
        }
    }

    private static List<String> old(Connection connection, Instant before) throws SQLException {
        List<String> old = new ArrayList<>();
        try (PreparedStatement query =
                connection.prepareStatement("select approval_id from " + NAME + " where expires_at < ?")) {
            query.setMaxRows(MOST_FORGOTTEN);
            query.setString(1, text(before));
            try (ResultSet rows = query.executeQuery()) {
                while (rows.next()) {
                    old.add(rows.getString(1));
                }
            }
        }
        return old;
    }

    /** One by one: some databases let a deletion by time wait for whoever is redeeming another approval. */
    private static void forget(Connection connection, List<String> approvals) throws SQLException {
        try (PreparedStatement delete = connection.prepareStatement("delete from " + NAME + " where approval_id = ?")) {
            for (String approval : approvals) {
                delete.setString(1, approval);
                delete.addBatch();
            }
            delete.executeBatch();
        }
    }

    /**
     * Takes an approval before anything is read, so that of two who send it one waits for the other, and keeps what came of it.
     *
     * @param redeeming the approval
     * @return who writes in the transaction of its run
     */
    public Writing writing(Redeeming redeeming) {
        return new Writing(redeeming);
    }

    /** Redeems one approval in the transaction of its run. */
    public final class Writing implements RunParticipant {
        private final Redeeming redeeming;
        private StoredReceipt written;

        private Writing(Redeeming redeeming) {
            this.redeeming = redeeming;
        }

        /** {@return what was written down of the run, in whichever attempt it was committed} */
        public StoredReceipt receipt() {
            return written;
        }

        @Override
        public void before(Connection connection) {
            Fragment insert = Fragment.of(
                    "insert into " + NAME + " (approval_id, expires_at) values (?, ?)",
                    (statement, index) -> statement.setString(index, redeeming.approval()),
                    (statement, index) -> statement.setString(index, text(redeeming.expiresAt())));
            try (PreparedStatement statement =
                    dialect.governed(insert, lockWait).prepare(connection)) {
                statement.executeUpdate();
            } catch (SQLException taken) {
                throw taken(taken);
            }
        }

        private TakenException taken(SQLException taken) {
            boolean locked = dialect.isLockFailure(taken);
            return new TakenException(
                    locked && !transactions.isJoined(),
                    locked
                            ? LockFailures.ofConflict("the approval", taken)
                            : new DatabaseException(
                                    "write down that the approval is redeemed", "Nothing was changed.", taken));
        }

        /**
         * To take it once more waits for whoever has taken it, and works only if that was taken back. It is taken and given back: on another
         * server, which doesn't wait, whoever is still about to commit it can't any more.
         */
        @Override
        public Optional<Boolean> happened(Connection connection) throws SQLException {
            Savepoint start = connection.setSavepoint();
            try {
                before(connection);
            } catch (TakenException taken) {
                connection.rollback(start);
                return find(connection, redeeming.approval()).isPresent() ? Optional.of(true) : Optional.empty();
            }
            forget(connection, List.of(redeeming.approval()));
            return Optional.of(false);
        }

        @Override
        public void after(Connection connection, UUID run, Proposal done) throws SQLException {
            try (PreparedStatement update = connection.prepareStatement("update " + NAME + " set "
                    + String.join(" = ?, ", StoredReceipt.NAMES) + " = ? where approval_id = ?")) {
                written = StoredReceipt.of(run, done, clock.instant());
                int parameter = 0;
                for (String text : written.texts().values()) {
                    update.setString(++parameter, text);
                }
                update.setString(++parameter, redeeming.approval());
                update.executeUpdate();
            }
        }
    }

    /** Of one length, so that texts are in the order of time. */
    private static String text(Instant instant) {
        return Instant.ofEpochSecond(instant.getEpochSecond()).toString();
    }
}
