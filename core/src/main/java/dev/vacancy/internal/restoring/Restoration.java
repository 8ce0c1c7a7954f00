package dev.vacancy.internal.restoring;

import dev.vacancy.audit.Conflict;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.failure.DatabaseException;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Deferral;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.EntryWriter;
import dev.vacancy.internal.trail.Recorder;
import dev.vacancy.rule.LatestRow;
import dev.vacancy.rule.Rules;
import dev.vacancy.run.NotAsPlannedException;
import dev.vacancy.run.StalePlanException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Types;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;

/** Writes records back as they were, on a connection, and each of them down in the trail. */
final class Restoration implements Restorer.Work {
    private final Rules rules;
    private final Dialect dialect;
    private final Connection connection;
    private final Recorder recorder;
    private final UUID run;
    private final Comparison comparison;
    private final Map<String, Integer> steps = new LinkedHashMap<>();
    private final Map<String, Long> places = new LinkedHashMap<>();
    private final List<String> open = new ArrayList<>();

    /** Foreign keys that could not be set when their record was, as what they point to comes back later. */
    private final List<Late> late = new ArrayList<>();

    private record Late(Table table, List<Column> columns, Row row) {}

    /**
     * Prepares to write.
     *
     * @param agreed what has come through the gate
     * @param run the id of the restore
     */
    Restoration(
            Restores.Agreed agreed, Rules rules, Dialect dialect, Connection connection, Recorder recorder, UUID run) {
        Passage passage = agreed.passage();
        passage.require(agreed.plan());
        this.rules = rules;
        this.dialect = dialect;
        this.connection = connection;
        this.recorder = recorder;
        this.run = run;
        this.comparison = new Comparison(rules, new Standing(dialect, connection));
    }

    @Override
    public void begin(List<String> tables) throws SQLException {
        open.addAll(tables);
        for (Deferral deferral : dialect.deferral().stream().toList()) {
            execute(deferral.begin());
        }
    }

    @Override
    public void expect(List<Conflict> conflicts) {
        if (!conflicts.isEmpty()) {
            Conflict first = conflicts.get(0);
            throw new StalePlanException(List.of(first.table() + " " + first.key() + ": " + first.reason()));
        }
    }

    void end() throws SQLException {
        for (Late foreignKey : late) {
            put(foreignKey.table(), foreignKey.columns(), foreignKey.row());
            compare(foreignKey.table(), List.of(foreignKey.row()), foreignKey.columns());
        }
        for (Deferral deferral : dialect.deferral().stream().toList()) {
            execute(deferral.end());
        }
    }

    private void execute(String sql) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    @Override
    public void insert(Table table, List<Row> rows) throws SQLException {
        while (!open.get(0).equals(table.name())) {
            open.remove(0);
        }
        List<Column> columns = table.columns().stream()
                .filter(column -> !column.generated() && rows.get(0).image().containsKey(column))
                .toList();
        List<List<Column>> postponed = postponed(table);
        Set<Column> empty = postponed.stream().flatMap(List::stream).collect(Collectors.toSet());
        String marks = columns.stream()
                .map(column -> dialect.fromImage(column.type(), "").sql())
                .collect(Collectors.joining(", "));
        String sql = dialect.beforeInsertion() + "insert into " + dialect.name(table) + " ("
                + String.join(", ", dialect.names(columns)) + ")" + dialect.overridingIdentity() + "values (" + marks
                + ")";
        try (PreparedStatement insert = connection.prepareStatement(sql)) {
            for (Row row : rows) {
                for (int i = 0; i < columns.size(); i++) {
                    Object value =
                            empty.contains(columns.get(i)) ? null : row.image().get(columns.get(i));
                    bind(insert, i + 1, columns.get(i), value);
                }
                insert.addBatch();
            }
            requireEach(table, rows, insert.executeBatch());
            List<Column> written =
                    columns.stream().filter(column -> !empty.contains(column)).toList();
            comparison.require(table, rows, written);
        } catch (SQLException refused) {
            throw failed("bring back records of " + table, refused);
        }
        for (Row row : rows) {
            for (List<Column> foreignKey : postponed) {
                if (foreignKey.stream().anyMatch(column -> row.image().get(column) != null)) {
                    late.add(new Late(table, foreignKey, row.only(table.identity(), foreignKey)));
                }
            }
        }
        record(table, rows);
    }

    /** Where the driver tells how many rows each insertion has made. */
    private static void requireEach(Table table, List<Row> rows, int[] counts) {
        for (int i = 0; i < counts.length; i++) {
            if (counts[i] == 0) {
                throw NotAsPlannedException.swallowed(
                        table.name(), rows.get(i).entry().keyText());
            }
        }
    }

    private void bind(PreparedStatement statement, int index, Column column, Object value) throws SQLException {
        if (value == null) {
            statement.setNull(index, Types.NULL);
            return;
        }
        for (Binding binding : dialect.fromImage(column.type(), value).bindings()) {
            binding.bind(statement, index);
        }
    }

    /** The foreign keys that may be null and point to records that come back after these, or beside them. */
    private List<List<Column>> postponed(Table table) {
        List<List<Column>> postponed = new ArrayList<>();
        for (Link link : rules.catalog().links()) {
            boolean ahead = open.contains(link.parent().name());
            List<Column> emptied =
                    link.childColumns().stream().filter(Column::nullable).toList();
            if (link.declared() && link.child().equals(table) && ahead && !emptied.isEmpty()) {
                postponed.add(emptied);
            }
        }
        return postponed;
    }

    @Override
    public void put(Table table, List<Row> rows) throws SQLException {
        List<Column> columns = new ArrayList<>();
        rows.get(0).entry().alteration().orElse(Map.of()).keySet().forEach(name -> columns.add(table.column(name)));
        for (Row row : rows) {
            put(table, columns, row);
        }
        compare(table, rows, columns);
        record(table, rows);
    }

    @Override
    public void reopen(Table table, LatestRow latest, List<Row> rows) throws SQLException {
        for (Row row : rows) {
            Condition closing = Closings.appended(table, latest, row);
            Fragment deletion = dialect.delete(
                    dialect.name(table),
                    Statements.alias(),
                    dialect.names(Statements.alias(), table.identity()),
                    closing.alternatives(dialect),
                    1);
            try (PreparedStatement delete = deletion.prepare(connection)) {
                one(row, delete.executeUpdate());
            } catch (SQLException refused) {
                throw failed("open " + table + " " + row.entry().keyText() + " again", refused);
            }
        }
        record(table, rows);
    }

    private void compare(Table table, List<Row> rows, List<Column> columns) {
        try {
            comparison.require(table, rows, columns);
        } catch (SQLException refused) {
            throw failed("look at records of " + table, refused);
        }
    }

    private static void one(Row row, int changed) throws SQLException {
        if (changed != 1) {
            throw new SQLException(
                    changed + " records have the key " + row.entry().keyText());
        }
    }

    private void put(Table table, List<Column> columns, Row row) throws SQLException {
        List<String> assignments = new ArrayList<>();
        List<Column> bound = new ArrayList<>();
        List<Object> values = new ArrayList<>();
        for (Column column : columns) {
            assignments.add(dialect.quote(column.storedName()) + " = "
                    + dialect.fromImage(column.type(), "").sql());
            bound.add(column);
            values.add(row.image().get(column));
        }
        Optional.ofNullable(rules.softness().versions().get(table))
                .map(version -> dialect.quote(version.storedName()))
                .ifPresent(version -> assignments.add(version + " = coalesce(" + version + ", 0) + 1"));
        List<String> matches = new ArrayList<>();
        for (Column column : table.identity()) {
            matches.add(dialect.quote(column.storedName()) + " = "
                    + dialect.fromImage(column.type(), "").sql());
            bound.add(column);
            values.add(row.image().get(column));
        }
        String sql = "update " + dialect.name(table) + " set " + String.join(", ", assignments) + " where "
                + String.join(" and ", matches);
        try (PreparedStatement update = connection.prepareStatement(sql)) {
            for (int i = 0; i < bound.size(); i++) {
                bind(update, i + 1, bound.get(i), values.get(i));
            }
            one(row, update.executeUpdate());
        } catch (SQLException refused) {
            throw failed("put back " + table + " " + row.entry().keyText(), refused);
        }
    }

    private void record(Table table, List<Row> rows) throws SQLException {
        int step = steps.computeIfAbsent(table.name(), missing -> steps.size() + 1);
        Recorder.Heading heading = new Recorder.Heading(run, step, Action.RESTORED, table.name(), Optional.empty());
        try (EntryWriter writer = recorder.writer(connection)) {
            for (Row row : rows) {
                long place = places.merge(table.name(), 1L, Long::sum);
                writer.add(heading, place, row.entry().key(), null, row.entry().reference());
            }
            writer.flush();
        }
    }

    private DatabaseException failed(String what, SQLException refused) {
        SQLException cause = refused.getNextException() == null ? refused : refused.getNextException();
        return new DatabaseException(what, "Nothing was changed; settle what it names and restore again.", cause);
    }
}
