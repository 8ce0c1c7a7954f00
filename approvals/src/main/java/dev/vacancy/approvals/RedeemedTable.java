package dev.vacancy.approvals;

import dev.vacancy.Plan;
import dev.vacancy.Proposal;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.running.RunParticipant;
import dev.vacancy.internal.trail.Image;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/** The table of approvals that were redeemed, each with what came of it, in SQL that all databases share. */
final class RedeemedTable {
    static final String NAME = "vacancy_redeemed";

    private static final String MARKED = "marked";
    private static final int MOST_FORGOTTEN = 1_000;

    private final Dialect dialect;
    private final Clock clock;
    private final Duration lockWait;

    RedeemedTable(Dialect dialect, Clock clock, Duration lockWait) {
        this.dialect = dialect;
        this.clock = clock;
        this.lockWait = lockWait;
    }

    /** Somebody else has redeemed the approval, or is about to. */
    static final class Taken extends RuntimeException {
        private static final long serialVersionUID = 1L;

        private final transient SQLException refusal;

        Taken(SQLException refusal) {
            super(refusal);
            this.refusal = refusal;
        }

        SQLException refusal() {
            return refusal;
        }
    }

    Optional<Receipt> find(Connection connection, Token token) throws SQLException {
        try (PreparedStatement query =
                connection.prepareStatement("select run_id, table_name, done_at, counts, marked, changed from " + NAME
                        + " where approval_id = ?")) {
            query.setString(1, token.id());
            try (ResultSet row = query.executeQuery()) {
                return row.next()
                        ? Optional.of(new Receipt(
                                UUID.fromString(row.getString(1)),
                                row.getString(2),
                                Instant.parse(row.getString(3)),
                                numbers(row.getString(4)),
                                texts(row.getString(5)),
                                numbers(row.getString(6)),
                                token.mode(),
                                true))
                        : Optional.empty();
            }
        }
    }

    /** What nobody could send again any more, and needn't be kept. */
    List<String> old(Connection connection, Instant before) throws SQLException {
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
    void forget(Connection connection, List<String> approvals) throws SQLException {
        try (PreparedStatement delete = connection.prepareStatement("delete from " + NAME + " where approval_id = ?")) {
            for (String approval : approvals) {
                delete.setString(1, approval);
                delete.addBatch();
            }
            delete.executeBatch();
        }
    }

    /** Takes the approval before anything is read, so that of two who send it one waits for the other. */
    Redeeming redeeming(Token token) {
        return new Redeeming(token);
    }

    /** Redeems one approval in the transaction of its run. */
    final class Redeeming implements RunParticipant {
        private final Token token;
        private Receipt written;

        private Redeeming(Token token) {
            this.token = token;
        }

        /** What was written down of the run, in whichever attempt it was committed. */
        Receipt receipt() {
            return written;
        }

        @Override
        public void before(Connection connection) throws SQLException {
            Fragment insert = Fragment.of(
                    "insert into " + NAME + " (approval_id, expires_at) values (?, ?)",
                    (statement, index) -> statement.setString(index, token.id()),
                    (statement, index) -> statement.setString(index, text(token.expiresAt())));
            try (PreparedStatement statement =
                    dialect.governed(insert, lockWait).prepare(connection)) {
                statement.executeUpdate();
            } catch (SQLException taken) {
                throw new Taken(taken);
            }
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
            } catch (Taken taken) {
                connection.rollback(start);
                return find(connection, token).isPresent() ? Optional.of(true) : Optional.empty();
            }
            forget(connection, List.of(token.id()));
            return Optional.of(false);
        }

        @Override
        public void after(Connection connection, UUID run, Proposal done) throws SQLException {
            try (PreparedStatement update = connection.prepareStatement("update " + NAME
                    + " set run_id = ?, table_name = ?, done_at = ?, counts = ?, marked = ?, changed = ?"
                    + " where approval_id = ?")) {
                Receipt receipt = receiptOf(run, done);
                written = receipt;
                update.setString(1, run.toString());
                update.setString(2, receipt.table());
                update.setString(3, receipt.at().toString());
                update.setString(4, Image.write(new LinkedHashMap<>(receipt.counts())));
                update.setString(5, Image.write(Map.of(MARKED, receipt.marked())));
                update.setString(6, Image.write(new LinkedHashMap<>(receipt.changed())));
                update.setString(7, token.id());
                update.executeUpdate();
            }
        }

        private Receipt receiptOf(UUID run, Proposal done) {
            return new Receipt(
                    run,
                    done.subject(),
                    clock.instant(),
                    done.counts(),
                    done instanceof Plan deletion
                            ? deletion.marked().stream().sorted().toList()
                            : List.of(),
                    done.changes(),
                    token.mode(),
                    false);
        }
    }

    /** Of one length, so that texts are in the order of time. */
    private static String text(Instant instant) {
        return Instant.ofEpochSecond(instant.getEpochSecond()).toString();
    }

    private static Map<String, Long> numbers(String image) {
        Map<String, Long> numbers = new LinkedHashMap<>();
        Image.read(image).forEach((name, value) -> numbers.put(name, ((Number) value).longValue()));
        return numbers;
    }

    private static List<String> texts(String image) {
        return ((List<?>) Image.read(image).get(MARKED))
                .stream().map(String::valueOf).toList();
    }
}
