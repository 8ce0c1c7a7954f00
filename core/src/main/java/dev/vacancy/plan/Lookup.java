package dev.vacancy.plan;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Condition;
import dev.vacancy.dialect.Dialect;
import dev.vacancy.dialect.Fragment;
import dev.vacancy.dialect.Statements;
import dev.vacancy.failure.DatabaseException;
import dev.vacancy.failure.LockedException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** The questions that planning puts to the database. Each is one statement, however many records it is about. */
final class Lookup {
    private final Connection connection;
    private final Dialect dialect;
    private final boolean locking;

    Lookup(Connection connection, Dialect dialect, boolean locking) {
        this.connection = connection;
        this.dialect = dialect;
        this.locking = locking;
    }

    /** Whether the records are read to be changed in this transaction, and not only to be looked at. */
    boolean locking() {
        return locking;
    }

    /** Reads records in any order, and locks them if this is for a run. */
    List<List<Object>> records(Table table, List<Column> columns, Condition condition) {
        Fragment query = select(table, columns, condition);
        return rows(
                table,
                columns.size(),
                locking ? Statements.locking(query, Column.in(dialect, table.identity())) : query);
    }

    /** Reads the first few records by their identity, each with its values by column. */
    List<Map<Column, Object>> first(int limit, Table table, Set<Column> columns, Condition condition) {
        return first(limit, false, table, columns, condition);
    }

    /** Counts records and reads the lowest and the highest key among them. */
    Tally tally(Table table, Condition condition) {
        Fragment query = Statements.count(table.in(dialect), condition.in(dialect, table));
        long count = ((Number) rows(table, 1, query).get(0).get(0)).longValue();
        if (count == 0 || table.identity().isEmpty()) {
            return new Tally(count, Optional.empty(), Optional.empty());
        }
        return new Tally(count, edge(table, condition, false), edge(table, condition, true));
    }

    private Optional<Key> edge(Table table, Condition condition, boolean highest) {
        List<Column> identity = table.identity();
        return first(1, highest, table, new LinkedHashSet<>(identity), condition).stream()
                .findFirst()
                .map(values -> new Key(identity, List.copyOf(values.values())));
    }

    private List<Map<Column, Object>> first(
            int limit, boolean fromTheEnd, Table table, Set<Column> columns, Condition condition) {
        List<Column> read = List.copyOf(columns);
        Fragment query =
                Statements.ordered(select(table, read, condition), Column.in(dialect, table.identity()), fromTheEnd);
        List<Map<Column, Object>> records = new ArrayList<>();
        for (List<Object> row : rows(table, read.size(), Statements.limited(query, limit))) {
            Map<Column, Object> values = new LinkedHashMap<>();
            for (int i = 0; i < row.size(); i++) {
                values.put(read.get(i), row.get(i));
            }
            records.add(values);
        }
        return records;
    }

    private Fragment select(Table table, List<Column> columns, Condition condition) {
        return Statements.select(Column.in(dialect, columns), table.in(dialect), condition.in(dialect, table));
    }

    private List<List<Object>> rows(Table table, int width, Fragment query) {
        try (PreparedStatement statement = query.prepare(connection);
                ResultSet row = statement.executeQuery()) {
            List<List<Object>> rows = new ArrayList<>();
            while (row.next()) {
                List<Object> values = new ArrayList<>(width);
                for (int i = 1; i <= width; i++) {
                    values.add(dialect.read(row, i));
                }
                rows.add(Collections.unmodifiableList(values));
            }
            return rows;
        } catch (SQLException failure) {
            if (dialect.isLockFailure(failure)) {
                throw new LockedException(table.name(), failure);
            }
            throw new DatabaseException("read " + table.name(), "Nothing was changed.", failure);
        }
    }

    /** How many records, and between which keys. */
    record Tally(long count, Optional<Key> lowest, Optional<Key> highest) {}
}
