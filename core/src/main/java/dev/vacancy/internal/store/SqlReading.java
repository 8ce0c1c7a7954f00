package dev.vacancy.internal.store;

import dev.vacancy.DatabaseException;
import dev.vacancy.Limits;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.failure.LockFailures;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;

/**
 * Sends queries and reads what comes back.
 *
 * @param connection a connection in a transaction
 * @param dialect the dialect of the database
 * @param limits how long is waited for locks
 * @param locking whether a lock that isn't granted is one of a run
 */
record SqlReading(Connection connection, Dialect dialect, Limits limits, boolean locking) {
    private static final int PORTION = 1_000;

    /** A value to read of each row. */
    record Item(String expression, Reader reader) {
        static List<String> expressions(List<Item> items) {
            return items.stream().map(Item::expression).toList();
        }
    }

    @FunctionalInterface
    interface Reader {
        Object read(ResultSet row, int index) throws SQLException;
    }

    /** A question and what becomes of the rows that answer it. */
    record Ask<T>(
            Table table,
            Condition condition,
            List<Item> items,
            Fragment query,
            Function<List<List<Object>>, T> answer) {}

    /** Does what a statement says, if there is one. */
    void execute(Table table, Optional<Fragment> statement) {
        if (statement.isEmpty()) {
            return;
        }
        try (PreparedStatement prepared =
                dialect.governed(statement.get(), limits.lockWait()).prepare(connection)) {
            prepared.execute();
        } catch (SQLException failure) {
            throw failed(table, Optional.empty(), failure);
        }
    }

    List<List<Object>> rows(Table table, Optional<Condition> among, List<Item> items, Fragment query) {
        List<List<Object>> rows = new ArrayList<>();
        each(table, among, items, query, 0, rows::add);
        return rows;
    }

    /** Reads row by row; they come in portions, so that the driver doesn't hold all of them. */
    void each(Table table, Condition among, List<Item> items, Fragment query, Consumer<List<Object>> consumer) {
        each(table, Optional.of(among), items, query, PORTION, consumer);
    }

    private void each(
            Table table,
            Optional<Condition> among,
            List<Item> items,
            Fragment query,
            int portion,
            Consumer<List<Object>> consumer) {
        try (PreparedStatement statement =
                dialect.governed(query, limits.lockWait()).prepare(connection)) {
            statement.setFetchSize(portion);
            try (ResultSet row = statement.executeQuery()) {
                read(row, items, consumer);
            }
        } catch (SQLException failure) {
            throw failed(table, among, failure);
        }
    }

    /** Asks several questions, in one round trip where the driver can. */
    <T> List<T> together(List<Ask<T>> asks) {
        if (asks.size() < 2 || !dialect.pipelines()) {
            return asks.stream()
                    .map(ask -> ask.answer()
                            .apply(rows(ask.table(), Optional.of(ask.condition()), ask.items(), ask.query())))
                    .toList();
        }
        Fragment sequence = Fragment.sequence(asks.stream()
                .map(ask -> dialect.governed(ask.query(), limits.lockWait()))
                .toList());
        List<T> answers = new ArrayList<>();
        try (PreparedStatement statement = sequence.prepare(connection)) {
            statement.execute();
            for (Ask<T> ask : asks) {
                List<List<Object>> rows = new ArrayList<>();
                try (ResultSet row = statement.getResultSet()) {
                    read(row, ask.items(), rows::add);
                }
                answers.add(ask.answer().apply(rows));
                statement.getMoreResults();
            }
        } catch (SQLException failure) {
            throw failed(asks.get(0).table(), Optional.of(asks.get(0).condition()), failure);
        }
        return answers;
    }

    private static void read(ResultSet row, List<Item> items, Consumer<List<Object>> consumer) throws SQLException {
        while (row.next()) {
            List<Object> values = new ArrayList<>(items.size());
            for (int i = 0; i < items.size(); i++) {
                values.add(items.get(i).reader().read(row, i + 1));
            }
            consumer.accept(Collections.unmodifiableList(values));
        }
    }

    private RuntimeException failed(Table table, Optional<Condition> wanted, SQLException failure) {
        if (!dialect.isLockFailure(failure)) {
            return new DatabaseException("read " + table.name(), "Nothing was changed.", failure);
        }
        return locking ? new LockNotGranted(table, wanted, failure) : LockFailures.of(table.name(), List.of(), failure);
    }
}
