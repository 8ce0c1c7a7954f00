package dev.vacancy.examples;

import dev.vacancy.By;
import dev.vacancy.Outcome;
import dev.vacancy.Selection;
import dev.vacancy.TransactionSource;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.RuleBook;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import javax.sql.DataSource;

/**
 * An application without a framework, whose own transactions Vacancy takes part in: what is deleted and what the application writes beside it are
 * committed together, or not at all.
 */
public final class JdbcApplication {
    private final Transactions transactions;
    private final Vacancy vacancy;

    /**
     * Makes it.
     *
     * @param source the demo's database
     */
    public JdbcApplication(DataSource source) {
        this.transactions = new Transactions(source);
        this.vacancy = Vacancy.over(source, RuleBook.bySchema(), transactions);
    }

    /**
     * Gives up a placement, and writes a note about it at its apiary.
     *
     * @param placement its key
     * @param apiary the apiary's key
     * @param village the village that the apiary is now taken to be in
     * @return what happened
     * @throws SQLException if the database refuses something; then nothing was changed
     */
    public Outcome giveUp(int placement, int apiary, String village) throws SQLException {
        return transactions.within(connection -> {
            Outcome outcome = vacancy.delete(Selection.of("placement").key(placement), By.program("placements"));
            try (PreparedStatement update =
                    connection.prepareStatement("update apiary set village = ? where apiary_id = ?")) {
                update.setString(1, village);
                update.setInt(2, apiary);
                update.executeUpdate();
            }
            return outcome;
        });
    }

    /** The application's transactions: one a thread, on a connection of its own. */
    static final class Transactions implements TransactionSource {
        private static final ThreadLocal<Open> CURRENT = new ThreadLocal<>();

        private final DataSource source;

        Transactions(DataSource source) {
            this.source = source;
        }

        /** A transaction, and what is to be done after its commit. */
        private record Open(Connection connection, List<Runnable> afterwards) {}

        /** What is done in a transaction. */
        interface Work<T> {
            T on(Connection connection) throws SQLException;
        }

        <T> T within(Work<T> work) throws SQLException {
            try (Connection connection = source.getConnection()) {
                connection.setAutoCommit(false);
                Open open = new Open(connection, new ArrayList<>());
                CURRENT.set(open);
                T result = committed(work, connection);
                CURRENT.remove();
                open.afterwards().forEach(Runnable::run);
                return result;
            } finally {
                CURRENT.remove();
            }
        }

        private static <T> T committed(Work<T> work, Connection connection) throws SQLException {
            try {
                T result = work.on(connection);
                connection.commit();
                return result;
            } catch (SQLException | RuntimeException failure) {
                connection.rollback();
                throw failure;
            }
        }

        @Override
        public Optional<Connection> open() {
            return Optional.ofNullable(CURRENT.get()).map(Open::connection);
        }

        @Override
        public void afterCommit(Runnable task) {
            CURRENT.get().afterwards().add(task);
        }
    }
}
