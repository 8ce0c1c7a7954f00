package dev.vacancy.internal.restoring;

import dev.vacancy.DatabaseException;
import dev.vacancy.LockedException;
import dev.vacancy.NotAsPlannedException;
import dev.vacancy.StalePlanException;
import dev.vacancy.VacancyException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.Conflict;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.SqlCondition;
import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Deferral;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.Recorder;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.StoredEntry;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Writes records back as they were, on a connection, and each of them down in the trail. */
final class Restoration implements Restorer.Work {
    private static final int MOST_VALUES = 10_000;

    /** So that a statement is no longer than a packet, unless one record alone is. */
    private static final long MOST_CHARACTERS = 1_000_000;

    /** Rows that are held until what they point at is there; with more of them the foreign keys are set at the end. */
    private static final int MOST_WAITING = 20_000;

    private final Rules rules;
    private final Dialect dialect;
    private final Duration lockWait;
    private final Connection connection;

    /** Nobody where it is only tried. */
    private final Optional<Recorder> recorder;

    private final UUID run;
    private final RestoreComparison comparison;
    private final Map<String, Integer> steps = new LinkedHashMap<>();
    private final Map<String, Long> places = new LinkedHashMap<>();
    private final List<String> open = new ArrayList<>();

    /** Foreign keys that could not be set when their record was, as what they point to comes back later. */
    private final Map<Late, List<RestorableRow>> late = new LinkedHashMap<>();

    /** Rows of one step that point at others of their table which aren't there yet. */
    private final List<RestorableRow> waiting = new ArrayList<>();

    private record Late(Table table, List<Column> columns) {}

    /**
     * Prepares to write.
     *
     * @param agreed what has come through the gate
     * @param lockWait how long a statement waits for somebody else
     * @param run the id of the restore
     */
    Restoration(
            Restores.Agreed agreed,
            Rules rules,
            Dialect dialect,
            Duration lockWait,
            Connection connection,
            Recorder recorder,
            UUID run) {
        this(rules, dialect, lockWait, connection, Optional.of(recorder), run);
        Passage passage = agreed.passage();
        passage.require(agreed.plan());
    }

    private Restoration(
            Rules rules,
            Dialect dialect,
            Duration lockWait,
            Connection connection,
            Optional<Recorder> recorder,
            UUID run) {
        this.rules = rules;
        this.dialect = dialect;
        this.lockWait = lockWait;
        this.connection = connection;
        this.recorder = recorder;
        this.run = run;
        this.comparison = new RestoreComparison(rules, new CurrentRows(dialect, connection));
    }

    /**
     * Prepares to write what is taken back before anybody sees it, which needs nobody's leave: {@link Rehearsal} never commits.
     *
     * @return one that throws a {@link RefusedRecord} for the first record that the database doesn't take
     */
    static Restoration tried(Rules rules, Dialect dialect, Duration lockWait, Connection connection) {
        return new Restoration(rules, dialect, lockWait, connection, Optional.empty(), RunNumber.newId());
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
        writeWaiting();
        for (Map.Entry<Late, List<RestorableRow>> foreignKeys : late.entrySet()) {
            put(foreignKeys.getKey().table(), foreignKeys.getKey().columns(), foreignKeys.getValue());
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
    public void insert(Table table, List<RestorableRow> rows) throws SQLException {
        // Before their table is done with, so that what they point at is still known to be on its way.
        if (!waiting.isEmpty()
                && !isOfOneStep(waiting.get(0).entry(), rows.get(0).entry())) {
            writeWaiting();
        }
        while (!open.get(0).equals(table.name())) {
            open.remove(0);
        }
        List<Link> own = rules.catalog().links().stream()
                .filter(Link::declared)
                .filter(link -> link.child().equals(table) && link.parent().equals(table))
                .toList();
        if (own.isEmpty()) {
            write(table, rows, postponed(table, List.of()));
            return;
        }
        List<RestorableRow> all = new ArrayList<>(waiting);
        all.addAll(rows);
        Lineage.Sorted sorted = new Lineage(table, own, new CurrentRows(dialect, connection)).sort(all);
        write(table, sorted.ready(), postponed(table, own));
        waiting.clear();
        waiting.addAll(sorted.waiting());
        if (waiting.size() > MOST_WAITING) {
            writeWaiting();
        }
    }

    private static boolean isOfOneStep(StoredEntry one, StoredEntry other) {
        return one.run() == other.run() && one.step() == other.step();
    }

    /** Those that point at each other in a circle, or at what comes back by another step. */
    private void writeWaiting() throws SQLException {
        if (!waiting.isEmpty()) {
            List<RestorableRow> rows = List.copyOf(waiting);
            waiting.clear();
            Table table = rules.catalog().table(rows.get(0).entry().table());
            write(table, rows, postponed(table, List.of()));
        }
    }

    private void write(Table table, List<RestorableRow> rows, List<List<Column>> postponed) throws SQLException {
        if (rows.isEmpty()) {
            return;
        }
        List<Column> columns = table.columns().stream()
                .filter(column -> !column.generated() && rows.get(0).image().containsKey(column))
                .toList();
        Set<Column> empty = postponed.stream().flatMap(List::stream).collect(Collectors.toSet());
        String into = dialect.beforeInsertion() + "insert into " + dialect.name(table) + " ("
                + String.join(", ", dialect.names(columns)) + ")" + dialect.overridingIdentity();
        List<Column> written =
                columns.stream().filter(column -> !empty.contains(column)).toList();
        try {
            for (List<RestorableRow> some : inPieces(rows, columns.size())) {
                change(
                        these -> dialect.rowsOf(
                                        columns.stream().map(ColumnType::of).toList(),
                                        these.stream()
                                                .map(row -> values(row, columns, empty))
                                                .toList())
                                .between(into, ""),
                        table,
                        some,
                        written);
            }
        } catch (SQLException refused) {
            throw failed("bring back records of " + table, refused);
        }
        for (RestorableRow row : rows) {
            for (List<Column> foreignKey : postponed) {
                if (foreignKey.stream().anyMatch(column -> row.image().get(column) != null)) {
                    late.computeIfAbsent(new Late(table, foreignKey), missing -> new ArrayList<>())
                            .add(row.only(table.identity(), foreignKey));
                }
            }
        }
        record(table, rows);
    }

    private static List<Object> values(RestorableRow row, List<Column> columns, Set<Column> empty) {
        List<Object> values = new ArrayList<>();
        columns.forEach(
                column -> values.add(empty.contains(column) ? null : row.image().get(column)));
        return values;
    }

    /** A statement has room for so many values. */
    private static List<List<RestorableRow>> inPieces(List<RestorableRow> rows, int columns) {
        int most = Math.max(1, MOST_VALUES / Math.max(1, columns));
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

    private void change(
            Function<List<RestorableRow>, Fragment> statement,
            Table table,
            List<RestorableRow> rows,
            List<Column> written)
            throws SQLException {
        if (recorder.isPresent()) {
            change(statement.apply(rows), table, rows, written);
            return;
        }
        Savepoint before = connection.setSavepoint();
        try {
            change(statement.apply(rows), table, rows, written);
            connection.releaseSavepoint(before);
        } catch (SQLException | NotAsPlannedException refused) {
            if (refused instanceof SQLException failure && !RefusedRecord.isByData(failure, dialect)) {
                throw failure;
            }
            connection.rollback(before);
            if (rows.size() == 1) {
                throw new RefusedRecord(table, rows.get(0), refused);
            }
            change(statement, table, rows.subList(0, rows.size() / 2), written);
            change(statement, table, rows.subList(rows.size() / 2, rows.size()), written);
        }
    }

    /** Changes as many records as there are, and sees to it that they hold what they should. */
    private void change(Fragment statement, Table table, List<RestorableRow> rows, List<Column> written)
            throws SQLException {
        int changed;
        try (PreparedStatement prepared = governed(statement).prepare(connection)) {
            changed = prepared.executeUpdate();
        }
        comparison.require(table, rows, written);
        if (changed != rows.size()) {
            throw NotAsPlannedException.swallowed(
                    table.name(), rows.get(0).entry().keyText());
        }
    }

    /** The foreign keys that may be null and point to records that come back after these, or beside them. */
    private List<List<Column>> postponed(Table table, List<Link> besides) {
        List<List<Column>> postponed = new ArrayList<>();
        for (Link link : rules.catalog().links()) {
            boolean ahead = open.contains(link.parent().name());
            List<Column> emptied =
                    link.childColumns().stream().filter(Column::nullable).toList();
            boolean apart = besides.contains(link);
            if (link.declared() && link.child().equals(table) && ahead && !apart && !emptied.isEmpty()) {
                postponed.add(emptied);
            }
        }
        return postponed;
    }

    @Override
    public void put(Table table, List<RestorableRow> rows) throws SQLException {
        writeWaiting();
        List<Column> columns = new ArrayList<>();
        rows.get(0).entry().alteration().orElse(Map.of()).keySet().forEach(name -> columns.add(table.column(name)));
        put(table, columns, rows);
        record(table, rows);
    }

    @Override
    public void reopen(Table table, LatestRow latest, List<RestorableRow> rows) throws SQLException {
        writeWaiting();
        for (RestorableRow row : rows) {
            Condition closing = Closings.appended(table, latest, row);
            Fragment deletion = dialect.delete(
                    dialect.name(table),
                    Statements.alias(),
                    dialect.names(Statements.alias(), table.identity()),
                    SqlCondition.alternatives(closing, dialect),
                    1);
            try (PreparedStatement delete = governed(deletion).prepare(connection)) {
                one(row, delete.executeUpdate());
            } catch (SQLException refused) {
                throw failed("open " + table + " " + row.entry().keyText() + " again", refused);
            }
        }
        record(table, rows);
    }

    private Fragment governed(Fragment statement) {
        return dialect.governed(statement, lockWait);
    }

    private static void one(RestorableRow row, int changed) throws SQLException {
        if (changed != 1) {
            throw new SQLException(
                    changed + " records have the key " + row.entry().keyText());
        }
    }

    /** Gives back what stood in some columns; records that had the same there get it together. */
    private void put(Table table, List<Column> columns, List<RestorableRow> rows) {
        Map<List<Object>, List<RestorableRow>> alike = new LinkedHashMap<>();
        rows.forEach(row -> alike.computeIfAbsent(row.values(columns), missing -> new ArrayList<>())
                .add(row));
        try {
            for (Map.Entry<List<Object>, List<RestorableRow>> same : alike.entrySet()) {
                for (List<RestorableRow> some :
                        inPieces(same.getValue(), table.identity().size())) {
                    change(these -> update(table, columns, same.getKey(), these), table, some, columns);
                }
            }
        } catch (SQLException refused) {
            throw failed("put back " + table + " " + rows.get(0).entry().keyText(), refused);
        }
    }

    private Fragment update(Table table, List<Column> columns, List<Object> values, List<RestorableRow> rows) {
        List<String> assignments = new ArrayList<>();
        List<Binding> bindings = new ArrayList<>();
        for (int i = 0; i < columns.size(); i++) {
            Object value = values.get(i);
            Fragment made = value == null
                    ? Fragment.of("null")
                    : dialect.codec(columns.get(i)).fromImage(value);
            assignments.add(dialect.quote(columns.get(i).storedName()) + " = " + made.sql());
            bindings.addAll(made.bindings());
        }
        Optional.ofNullable(rules.softness().versions().get(table))
                .map(version -> dialect.quote(version.storedName()))
                .ifPresent(version -> assignments.add(version + " = coalesce(" + version + ", 0) + 1"));
        Fragment set = new Fragment(
                "update " + dialect.name(table) + " set " + String.join(", ", assignments) + " where ", bindings);
        return set.then(dialect.pictured(
                dialect.names(table.identity()),
                table.identity().stream().map(ColumnType::of).toList(),
                rows.stream().map(row -> row.values(table.identity())).toList()));
    }

    private void record(Table table, List<RestorableRow> rows) throws SQLException {
        if (recorder.isEmpty()) {
            return;
        }
        int step = steps.computeIfAbsent(table.name(), missing -> steps.size() + 1);
        Recorder.Heading heading = new Recorder.Heading(run, step, Action.RESTORED, table.name(), Optional.empty());
        long before = places.getOrDefault(table.name(), 0L);
        recorder.get()
                .recordRestored(
                        heading, before, rows.stream().map(RestorableRow::entry).toList(), connection);
        places.put(table.name(), before + rows.size());
    }

    /** Whom the database ends for somebody else tries again. */
    private VacancyException failed(String what, SQLException refused) {
        SQLException cause = refused.getNextException() == null ? refused : refused.getNextException();
        if (dialect.isLockFailure(refused) || dialect.isLockFailure(cause)) {
            return LockedException.ofConflict("what comes back", cause);
        }
        return new DatabaseException(what, "Nothing was changed; settle what it names and restore again.", cause);
    }
}
