package dev.vacancy.plan;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
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
import java.util.HashSet;
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
    private final Set<Table> keptOut = new HashSet<>();

    Lookup(Connection connection, Dialect dialect, boolean locking) {
        this.connection = connection;
        this.dialect = dialect;
        this.locking = locking;
    }

    /** Whether the records are read to be changed in this transaction, and not only to be looked at. */
    boolean locking() {
        return locking;
    }

    /** Whether records of one table that point at each other can't go in one statement. */
    boolean checksRowByRow() {
        return dialect.checksRowByRow();
    }

    /** How many generations {@link #descendants} goes down at most. */
    int deepestRecursion() {
        return dialect.deepestRecursion().orElse(Integer.MAX_VALUE);
    }

    /** Whether the checks of deferrable foreign keys can be put off. */
    boolean canDefer() {
        return dialect.deferral().isPresent();
    }

    /** Says what a run has to say before it reads anything. */
    void begin(Table table) {
        String column = dialect.quote(table.columns().get(0).storedName());
        say(table, dialect.beginWriting(table.in(dialect), column));
    }

    /** Keeps others from adding records to a table, as far as a lock on their parents wouldn't. */
    void keepOut(Table table) {
        if (locking && keptOut.add(table)) {
            say(table, dialect.lockTable(table.in(dialect)));
        }
    }

    private void say(Table table, Optional<Fragment> statement) {
        if (statement.isEmpty()) {
            return;
        }
        try (PreparedStatement prepared = statement.get().prepare(connection)) {
            prepared.execute();
        } catch (SQLException failure) {
            throw failed(table, Optional.empty(), failure);
        }
    }

    /** Reads the identities of records, or of those that nobody else holds, in order. */
    List<List<Object>> identities(Table table, Condition condition, boolean skippingHeld) {
        Fragment query =
                Statements.inOrder(select(table, table.identity(), condition), Column.in(dialect, table.identity()));
        Fragment asked = skippingHeld ? dialect.skippingLocked(query).orElse(query) : query;
        return rows(table, condition, table.identity().size(), asked);
    }

    /** Reads records in any order, and locks them if this is for a run. */
    List<List<Object>> records(Table table, List<Column> columns, Condition condition) {
        Fragment query = select(table, columns, condition);
        return rows(table, condition, columns.size(), locking ? locked(table, query) : query);
    }

    /**
     * Reads the records of a link's table that meet a condition, and those that hang on them by the link, to any depth.
     *
     * @param link a link from a table to itself
     * @param first picks the first records
     * @param further what the records below them must meet, or empty
     */
    List<List<Object>> descendants(Link link, List<Column> columns, Condition first, Optional<Condition> further) {
        Table table = link.child();
        String name = dialect.quote(table.storedName());
        Fragment query = Statements.descendants(
                dialect,
                table.in(dialect),
                name,
                qualified(name, columns),
                first.in(dialect, table),
                further.map(condition -> condition.in(dialect, table)),
                qualified(name, link.childColumns()),
                link.parentColumns().stream().map(columns::indexOf).toList());
        return rows(table, first, columns.size(), query).stream().distinct().toList();
    }

    private List<String> qualified(String table, List<Column> columns) {
        return Column.in(dialect, columns).stream()
                .map(column -> table + "." + column)
                .toList();
    }

    /** Reads the first few records by their identity, each with its values by column. */
    List<Map<Column, Object>> first(int limit, Table table, Set<Column> columns, Condition condition) {
        return first(limit, false, table, columns, condition);
    }

    /** Counts records and reads the lowest and the highest key among them. */
    Tally tally(Table table, Condition condition) {
        Fragment query = Statements.count(table.in(dialect), condition.in(dialect, table));
        long count = ((Number) rows(table, condition, 1, query).get(0).get(0)).longValue();
        if (count == 0 || table.identity().isEmpty()) {
            return new Tally(count, Optional.empty(), Optional.empty());
        }
        return new Tally(count, edge(table, condition, false), edge(table, condition, true));
    }

    /** Counts the records for each combination of values that some columns have. */
    List<Counted> countBy(Table table, List<Column> columns, Condition condition) {
        Fragment query =
                Statements.countBy(Column.in(dialect, columns), table.in(dialect), condition.in(dialect, table));
        return rows(table, condition, columns.size() + 1, query).stream()
                .map(row -> new Counted(row.subList(0, columns.size()), ((Number) row.get(columns.size())).longValue()))
                .toList();
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
        for (List<Object> row : rows(table, condition, read.size(), Statements.limited(query, limit))) {
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

    private Fragment locked(Table table, Fragment query) {
        return dialect.locking(Statements.inOrder(query, Column.in(dialect, table.identity())));
    }

    private List<List<Object>> rows(Table table, Condition condition, int width, Fragment query) {
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
            throw failed(table, Optional.of(condition), failure);
        }
    }

    private RuntimeException failed(Table table, Optional<Condition> wanted, SQLException failure) {
        if (!dialect.isLockFailure(failure)) {
            return new DatabaseException("read " + table.name(), "Nothing was changed.", failure);
        }
        return locking ? new NotGranted(table, wanted, failure) : LockedException.of(table.name(), List.of(), failure);
    }

    /** How many records, and between which keys. */
    record Tally(long count, Optional<Key> lowest, Optional<Key> highest) {}

    /** How many records have these values. */
    record Counted(List<Object> values, long count) {}
}
