package dev.vacancy.internal.restoring;

import dev.vacancy.DatabaseException;
import dev.vacancy.NotAsPlannedException;
import dev.vacancy.VacancyException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.failure.Deviations;
import dev.vacancy.internal.failure.LockFailures;
import dev.vacancy.internal.rules.Rules;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;

/** Carries out the statements of a restore, and sees to it that each record then holds what its image has. */
final class ProvenChanges {
    private static final int MOST_VALUES = 10_000;

    /** So that a statement is no longer than a packet, unless one record alone is. */
    private static final long MOST_CHARACTERS = 1_000_000;

    private final Dialect dialect;
    private final Duration lockWait;
    private final Connection connection;
    private final boolean tried;
    private final RestoreComparison comparison;

    /**
     * Changes nothing yet.
     *
     * @param lockWait how long a statement waits for somebody else
     * @param tried whether it is only tried, to be told which record the database doesn't take
     */
    ProvenChanges(Rules rules, Dialect dialect, Duration lockWait, Connection connection, boolean tried) {
        this.dialect = dialect;
        this.lockWait = lockWait;
        this.connection = connection;
        this.tried = tried;
        this.comparison = new RestoreComparison(rules, new CurrentRows(dialect, connection));
    }

    /**
     * Changes records, as many at a time as a statement has room for.
     *
     * @param values how many values a statement has for each of them
     * @param written the columns that are compared afterwards
     * @param statement changes some of them
     * @throws RefusedRecord for the first record that the database doesn't take, when it is only tried
     */
    void change(
            Table table,
            List<RestorableRow> rows,
            int values,
            List<Column> written,
            Function<List<RestorableRow>, Fragment> statement)
            throws SQLException {
        for (List<RestorableRow> some : inPieces(rows, values)) {
            if (tried) {
                attempt(table, some, written, statement);
            } else {
                require(table, some, written, statement.apply(some));
            }
        }
    }

    private static List<List<RestorableRow>> inPieces(List<RestorableRow> rows, int values) {
        int most = Math.max(1, MOST_VALUES / Math.max(1, values));
        List<List<RestorableRow>> pieces = new ArrayList<>();
        int from = 0;
        long characters = 0;
        for (int i = 0; i < rows.size(); i++) {
            long more = rows.get(i).entry().characters();
            if (i > from && (i - from == most || characters + more > MOST_CHARACTERS)) {
                pieces.add(rows.subList(from, i));
                from = i;
                characters = 0;
            }
            characters += more;
        }
        pieces.add(rows.subList(from, rows.size()));
        return pieces;
    }

    /** Halves what is refused until it is one record. */
    private void attempt(
            Table table,
            List<RestorableRow> rows,
            List<Column> written,
            Function<List<RestorableRow>, Fragment> statement)
            throws SQLException {
        Savepoint before = connection.setSavepoint();
        try {
            require(table, rows, written, statement.apply(rows));
            connection.releaseSavepoint(before);
        } catch (SQLException | NotAsPlannedException refused) {
            if (refused instanceof SQLException failure && !RefusedRecord.isByData(failure, dialect)) {
                throw failure;
            }
            connection.rollback(before);
            if (rows.size() == 1) {
                throw new RefusedRecord(table, rows.get(0), refused);
            }
            attempt(table, rows.subList(0, rows.size() / 2), written, statement);
            attempt(table, rows.subList(rows.size() / 2, rows.size()), written, statement);
        }
    }

    /** Changes as many records as there are, and sees to it that they hold what they should. */
    private void require(Table table, List<RestorableRow> rows, List<Column> written, Fragment statement)
            throws SQLException {
        int changed = execute(statement);
        comparison.require(table, rows, written);
        if (changed != rows.size()) {
            throw Deviations.swallowed(table.name(), rows.get(0).entry().keyText());
        }
    }

    /**
     * Carries out a statement that nobody looks after.
     *
     * @return how many records it has changed
     */
    int execute(Fragment statement) throws SQLException {
        try (PreparedStatement prepared = dialect.governed(statement, lockWait).prepare(connection)) {
            return prepared.executeUpdate();
        }
    }

    /** Whom the database ends for somebody else tries again. */
    VacancyException failed(String what, SQLException refused) {
        SQLException cause = refused.getNextException() == null ? refused : refused.getNextException();
        if (dialect.isLockFailure(refused) || dialect.isLockFailure(cause)) {
            return LockFailures.ofConflict("what comes back", cause);
        }
        return new DatabaseException(what, "Nothing was changed; settle what it names and restore again.", cause);
    }
}
