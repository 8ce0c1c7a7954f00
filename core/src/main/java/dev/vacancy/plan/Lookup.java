package dev.vacancy.plan;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Criteria;
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
import java.util.List;
import java.util.Optional;

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

    /** Reads records in the order of their identity, and locks them if this is for a run. */
    List<List<Object>> records(Table table, List<Column> columns, Criteria criteria) {
        Fragment query = ordered(table, columns, criteria, false);
        return rows(table, columns.size(), locking ? Statements.locking(query) : query);
    }

    /** Reads the first few records by their identity. */
    List<List<Object>> first(int limit, Table table, List<Column> columns, Criteria criteria) {
        return rows(table, columns.size(), Statements.limited(ordered(table, columns, criteria, false), limit));
    }

    /** Counts records and reads the lowest and the highest key among them. */
    Tally tally(Table table, Criteria criteria) {
        Fragment query = Statements.count(quoted(table), criteria.in(dialect));
        long count = ((Number) rows(table, 1, query).get(0).get(0)).longValue();
        if (count == 0 || table.identity().isEmpty()) {
            return new Tally(count, Optional.empty(), Optional.empty());
        }
        return new Tally(count, edge(table, criteria, false), edge(table, criteria, true));
    }

    private Optional<Key> edge(Table table, Criteria criteria, boolean highest) {
        List<Column> identity = table.identity();
        Fragment query = Statements.limited(ordered(table, identity, criteria, highest), 1);
        return rows(table, identity.size(), query).stream().findFirst().map(values -> new Key(identity, values));
    }

    private Fragment ordered(Table table, List<Column> columns, Criteria criteria, boolean descending) {
        Fragment query = Statements.select(quoted(columns), quoted(table), criteria.in(dialect));
        return Statements.ordered(query, quoted(table.identity()), descending);
    }

    private String quoted(Table table) {
        return dialect.quote(table.schema()) + "." + dialect.quote(table.storedName());
    }

    private List<String> quoted(List<Column> columns) {
        return columns.stream()
                .map(column -> dialect.quote(column.storedName()))
                .toList();
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
