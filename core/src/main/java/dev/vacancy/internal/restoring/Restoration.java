package dev.vacancy.internal.restoring;

import dev.vacancy.StalePlanException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.Conflict;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.dialect.Deferral;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.Recorder;
import dev.vacancy.internal.trail.RestoreRecorder;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.Stretch;
import java.sql.Connection;
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
import java.util.stream.Collectors;

/** Writes records back as they were, on a connection, and each of them down in the trail. */
final class Restoration implements Restorer.Work {
    /** Rows that are held until what they point at is there; with more of them the foreign keys are set at the end. */
    private static final int MOST_WAITING = 20_000;

    private final Rules rules;
    private final Dialect dialect;
    private final Connection connection;

    /** Nobody where it is only tried. */
    private final Optional<RestoreRecorder> recorder;

    private final StretchInsertion stretches;
    private final ProvenChanges changes;
    private final RestoredColumns restored;
    private final UUID run;
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
     * @param reader reads the trail
     * @param run the id of the restore
     */
    Restoration(
            Restores.Agreed agreed,
            Rules rules,
            Dialect dialect,
            Duration lockWait,
            Connection connection,
            EntryReader reader,
            UUID run) {
        this(rules, dialect, lockWait, connection, reader, true, run);
        Passage passage = agreed.passage();
        passage.require(agreed.plan());
    }

    private Restoration(
            Rules rules,
            Dialect dialect,
            Duration lockWait,
            Connection connection,
            EntryReader reader,
            boolean recording,
            UUID run) {
        this.rules = rules;
        this.dialect = dialect;
        this.connection = connection;
        this.recorder = Optional.of(new RestoreRecorder(rules.recording().orElseThrow(), dialect))
                .filter(recorder -> recording);
        this.stretches = new StretchInsertion(rules, dialect, connection, reader);
        this.changes = new ProvenChanges(rules, dialect, lockWait, connection, !recording);
        this.restored = new RestoredColumns(rules, dialect, changes);
        this.run = run;
    }

    /**
     * Prepares to write what is taken back before anybody sees it, which needs nobody's leave: {@link Rehearsal} never commits.
     *
     * @return one that throws a {@link RefusedRecord} for the first record that the database doesn't take
     */
    static Restoration tried(
            Rules rules, Dialect dialect, Duration lockWait, Connection connection, EntryReader reader) {
        return new Restoration(rules, dialect, lockWait, connection, reader, false, RunNumber.newId());
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
            restored.put(foreignKeys.getKey().table(), foreignKeys.getKey().columns(), foreignKeys.getValue());
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
        advanceTo(table);
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

    private void advanceTo(Table table) {
        while (!open.get(0).equals(table.name())) {
            open.remove(0);
        }
    }

    @Override
    public boolean insert(Table table, Stretch stretch) throws SQLException {
        if (recorder.isEmpty()) {
            return false;
        }
        writeWaiting();
        advanceTo(table);
        Optional<StretchInsertion.Statement> statement =
                postponed(table, List.of()).isEmpty() ? stretches.of(table, stretch) : Optional.empty();
        if (statement.isEmpty()) {
            return false;
        }
        Savepoint before = connection.setSavepoint();
        try {
            if (changes.execute(statement.get().insertion()) == stretch.count()
                    && isRecorded(table, stretch, statement.get().found())) {
                connection.releaseSavepoint(before);
                return true;
            }
        } catch (SQLException refused) {
            if (!RefusedRecord.isByData(refused, dialect)) {
                throw changes.failed("bring back records of " + table, refused);
            }
        }
        // One by one, to be told which of them it is, and why.
        connection.rollback(before);
        stretches.exclude(table);
        return false;
    }

    private boolean isRecorded(Table table, Stretch stretch, Fragment found) throws SQLException {
        long before = places.getOrDefault(table.name(), 0L);
        long recorded = recorder.orElseThrow().record(heading(table), before, stretch, found, connection);
        if (recorded != stretch.count()) {
            return false;
        }
        places.put(table.name(), before + recorded);
        return true;
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
            changes.change(
                    table,
                    rows,
                    columns.size(),
                    written,
                    these -> dialect.rowsOf(
                                    columns.stream().map(ColumnType::of).toList(),
                                    these.stream()
                                            .map(row -> values(row, columns, empty))
                                            .toList())
                            .between(into, ""));
        } catch (SQLException refused) {
            throw changes.failed("bring back records of " + table, refused);
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
        List<Column> changed = new ArrayList<>();
        rows.get(0).entry().alteration().orElse(Map.of()).keySet().forEach(name -> changed.add(table.column(name)));
        restored.put(table, changed, rows);
        record(table, rows);
    }

    @Override
    public void reopen(Table table, LatestRow latest, List<RestorableRow> rows) throws SQLException {
        writeWaiting();
        restored.reopen(table, latest, rows);
        record(table, rows);
    }

    private void record(Table table, List<RestorableRow> rows) throws SQLException {
        if (recorder.isEmpty()) {
            return;
        }
        long before = places.getOrDefault(table.name(), 0L);
        recorder.get()
                .record(
                        heading(table),
                        before,
                        rows.stream().map(RestorableRow::entry).toList(),
                        connection);
        places.put(table.name(), before + rows.size());
    }

    private Recorder.Heading heading(Table table) {
        int step = steps.computeIfAbsent(table.name(), missing -> steps.size() + 1);
        return new Recorder.Heading(run, step, Action.RESTORED, table.name(), Optional.empty());
    }
}
