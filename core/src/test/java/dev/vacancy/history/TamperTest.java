package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Types;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.UUID;
import javax.sql.DataSource;

/** Whoever changes anything at all in the trail is found out. */
class TamperTest {
    private static final RuleBook BOOK = RuleBook.bySchema().trail(Trail.defaults());
    private static final By ODILE = By.user("odile").because("colony lost");
    private static final List<String> RUN_KEY = List.of("place");
    private static final List<String> ENTRY_KEY = List.of("run_no", "step", "place");

    /** A deletion, what came back of it, a hold that was lifted, a deletion that was erased, words that were masked, once and twice, and what was
     * aged before. */
    private static Stage trail(Engine engine) {
        Database database = engine.database();
        database.run(
                "create table hive (hive_id integer primary key, name varchar(20))",
                "create table photo (photo_id integer primary key, hive_id integer,"
                        + " foreign key (hive_id) references hive (hive_id) on delete set null)",
                "insert into hive values (1, 'Fellside One'), (2, 'Fellside Two'), (3, 'Bramble')",
                "insert into photo values (100, 1), (200, 2)");
        Ddl.of(database.source(), BOOK).apply();
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        delete(vacancy, 3);
        Instant aged = vacancy.history().runs(HistoryQuery.all()).get(0).at().plusNanos(1_000);
        UUID run = delete(vacancy, 1);
        vacancy.history().prune(aged, By.program("night shift"));
        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, ODILE)));
        UUID hold = vacancy.history().hold("hive", "hive_id = 1", ODILE);
        vacancy.history().lift(hold, ODILE);
        delete(vacancy, 2);
        vacancy.history().erase("hive", "2", By.user("una"));
        database.run("insert into hive values (4, 'Ivo and Ada')");
        vacancy.delete(Selection.of("hive").key(4), By.user("odile").because("Ivo asked for it"));
        vacancy.history().mask("ivo", By.user("una"));
        vacancy.history().mask("ada", By.user("una"));
        // One connection for all of it: to open one each time would take most of the time.
        try {
            DataSource one = Database.always(database.connect());
            return new Stage(database, one, Vacancy.over(one, BOOK));
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }

    private record Stage(Database database, DataSource source, Vacancy vacancy) {
        Verification verify(Verification.Head head) {
            return vacancy.history().verify(Optional.ofNullable(head));
        }
    }

    private static UUID delete(Vacancy vacancy, int key) {
        return vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(key), ODILE)))
                .runId();
    }

    @OnEveryEngine
    void everyColumnOfEveryRow(Engine engine) throws SQLException {
        Stage stage = trail(engine);
        Verification.Head head = stage.verify(null).head();
        assertThat(stage.verify(head).faults()).isEmpty();
        List<String> unnoticed = new ArrayList<>();
        int told = 0;
        for (Cell cell : cells(stage.source())) {
            for (Object other : cell.others()) {
                if (set(stage.source(), cell, other)) {
                    told++;
                    if (stage.verify(head).isIntact()) {
                        unnoticed.add(cell + " := " + other);
                    }
                    set(stage.source(), cell, cell.value());
                }
            }
        }

        assertThat(unnoticed).isEmpty();
        assertThat(told).isGreaterThan(300);
        assertThat(stage.verify(head).faults()).isEmpty();
    }

    @OnEveryEngine
    void everyRowThatIsRemovedDoubledOrReordered(Engine engine) throws SQLException {
        Stage stage = trail(engine);
        Database database = stage.database();
        Verification.Head head = stage.verify(null).head();
        List<String> unnoticed = new ArrayList<>();
        for (Row row : rows(stage.source())) {
            database.run("delete from " + row.table() + " where " + row.where());
            if (stage.verify(head).isIntact()) {
                unnoticed.add("without " + row);
            }
            insert(stage.source(), row);
            Map<String, Object> later = new LinkedHashMap<>(row.values());
            later.put("place", 900L);
            later.computeIfPresent("run_id", (name, id) -> UUID.randomUUID().toString());
            later.computeIfPresent("run_no", (name, number) -> row.table().endsWith("run") ? 900L : number);
            Row doubled = new Row(row.table(), row.key(), later);
            insert(stage.source(), doubled);
            if (stage.verify(head).isIntact()) {
                unnoticed.add("twice " + row);
            }
            database.run("delete from " + row.table() + " where " + doubled.where());
        }

        assertThat(unnoticed).isEmpty();
        assertThat(stage.verify(head).faults()).isEmpty();
    }

    /** A line break is a character like any other, and what isn't there differs from what is empty. */
    @OnEveryEngine
    void whatMovesFromOneFieldToTheNext(Engine engine) {
        Stage stage = trail(engine);
        Database database = stage.database();

        database.run("update vacancy_trail_run set actor = 'odile\ncolony', reason = 'lost' where kind = 'deletion'");

        assertThat(stage.verify(null).faults()).isNotEmpty();
    }

    /** Whoever could write a whole trail anew could also write down that it was aged: verification doesn't take an ageing's word. */
    @OnEveryEngine
    void allOfATrailIsAgedAwayAgainstAKeptHead(Engine engine) {
        Stage stage = trail(engine);
        Database database = stage.database();
        Vacancy vacancy = stage.vacancy();
        Verification.Head head = stage.verify(null).head();

        long gone = vacancy.history().prune(Instant.now(), By.program("night shift"));
        delete(vacancy, 1);

        assertThat(gone).isEqualTo(10);
        assertThat(stage.verify(null).faults()).isEmpty();
        Verification now = stage.verify(head);
        assertThat(now.faults())
                .singleElement()
                .asString()
                .contains("where the head was kept, isn't in the trail any more: night shift removed it")
                .contains("keep the head of today");
        assertThat(now.head().place()).isEqualTo(head.place() + 2);
        assertThat(stage.verify(now.head()).faults()).isEmpty();
        Verification.Head forged = new Verification.Head(head.place(), "0".repeat(64));
        assertThat(stage.verify(forged).faults()).singleElement().asString().contains("isn't the one that stood there");
        database.run("delete from vacancy_trail_entry where action = 'deleted'");
        assertThat(stage.verify(null).faults()).isNotEmpty();
    }

    private record Row(String table, List<String> key, Map<String, Object> values) {
        String where() {
            return String.join(
                    " and ",
                    key.stream()
                            .map(column -> column + " = " + values.get(column))
                            .toList());
        }

        @Override
        public String toString() {
            return table + " " + where();
        }
    }

    private record Cell(Row row, String column, Object value, Object neighbour) {
        List<Object> others() {
            List<Object> others = new ArrayList<>();
            others.add(null);
            if (value instanceof Long number) {
                others.add(number + 1);
                others.add(0L);
            } else if (value instanceof byte[] bytes) {
                byte[] flipped = Arrays.copyOf(bytes, Math.max(1, bytes.length));
                flipped[flipped.length - 1] ^= 1;
                others.add(flipped);
                others.add(new byte[0]);
            } else {
                others.add(value + "x");
                others.add("");
            }
            others.add(neighbour);
            others.removeIf(other -> Objects.deepEquals(other, value));
            return others;
        }

        @Override
        public String toString() {
            return row + ": " + column + " = " + (value instanceof byte[] bytes ? Arrays.toString(bytes) : value);
        }
    }

    private static List<Cell> cells(DataSource source) throws SQLException {
        List<Cell> cells = new ArrayList<>();
        List<Row> rows = rows(source);
        for (int i = 0; i < rows.size(); i++) {
            Row row = rows.get(i);
            Row next = rows.get((i + 1) % rows.size());
            row.values()
                    .forEach((column, value) -> cells.add(new Cell(
                            row,
                            column,
                            value,
                            next.table().equals(row.table()) ? next.values().get(column) : value)));
        }
        return cells;
    }

    private static List<Row> rows(DataSource source) throws SQLException {
        List<Row> rows = new ArrayList<>();
        for (String table : List.of("vacancy_trail_run", "vacancy_trail_entry")) {
            List<String> key = table.endsWith("run") ? RUN_KEY : ENTRY_KEY;
            String sql = "select * from " + table + " order by " + String.join(", ", key);
            try (Connection connection = source.getConnection();
                    PreparedStatement query = connection.prepareStatement(sql);
                    ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    rows.add(new Row(table, key, values(row)));
                }
            }
        }
        return rows;
    }

    private static Map<String, Object> values(ResultSet row) throws SQLException {
        ResultSetMetaData columns = row.getMetaData();
        Map<String, Object> values = new LinkedHashMap<>();
        for (int i = 1; i <= columns.getColumnCount(); i++) {
            String name = columns.getColumnName(i).toLowerCase(Locale.ROOT);
            Object value = switch (columns.getColumnType(i)) {
                case Types.BIGINT, Types.INTEGER, Types.NUMERIC -> row.getLong(i);
                case Types.BINARY, Types.VARBINARY, Types.BLOB -> row.getBytes(i);
                default ->
                    name.equals("seal") || (name.equals("digest") && columns.getColumnCount() == 14)
                            ? row.getBytes(i)
                            : row.getString(i);
            };
            values.put(name, row.wasNull() ? null : value);
        }
        return values;
    }

    /** Returns false where the database itself refuses the value. */
    private static boolean set(DataSource source, Cell cell, Object value) throws SQLException {
        if (Objects.deepEquals(value, cell.value())) {
            return restored(source, cell);
        }
        try (Connection connection = source.getConnection();
                PreparedStatement update =
                        connection.prepareStatement("update " + cell.row().table() + " set " + cell.column()
                                + " = ? where " + cell.row().where())) {
            bind(update, 1, cell.value(), value);
            return update.executeUpdate() == 1;
        } catch (SQLException refused) {
            return false;
        }
    }

    private static boolean restored(DataSource source, Cell cell) throws SQLException {
        Row row = cell.row();
        String rest = String.join(
                " and ",
                row.key().stream()
                        .filter(column -> !column.equals(cell.column()))
                        .map(column -> column + " = " + row.values().get(column))
                        .toList());
        boolean keyed = row.key().contains(cell.column());
        if (keyed) {
            // The row has another key now: found by its own digest, which is in no other.
            try (Connection connection = source.getConnection();
                    PreparedStatement update = connection.prepareStatement("update " + row.table() + " set "
                            + cell.column() + " = ? where digest = ?" + (rest.isEmpty() ? "" : " and " + rest)
                            + (row.table().endsWith("run")
                                    ? " and run_no = " + row.values().get("run_no")
                                    : ""))) {
                bind(update, 1, cell.value(), cell.value());
                bind(update, 2, row.values().get("digest"), row.values().get("digest"));
                return update.executeUpdate() == 1;
            }
        }
        try (Connection connection = source.getConnection();
                PreparedStatement update = connection.prepareStatement(
                        "update " + row.table() + " set " + cell.column() + " = ? where " + row.where())) {
            bind(update, 1, cell.value(), cell.value());
            return update.executeUpdate() == 1;
        }
    }

    private static void insert(DataSource source, Row row) throws SQLException {
        String columns = String.join(", ", row.values().keySet());
        String marks = String.join(
                ", ", row.values().keySet().stream().map(column -> "?").toList());
        try (Connection connection = source.getConnection();
                PreparedStatement insert = connection.prepareStatement(
                        "insert into " + row.table() + " (" + columns + ") values (" + marks + ")")) {
            int index = 0;
            for (Object value : row.values().values()) {
                bind(insert, ++index, value, value);
            }
            insert.executeUpdate();
        }
    }

    private static void bind(PreparedStatement statement, int index, Object like, Object value) throws SQLException {
        if (value instanceof byte[] bytes) {
            statement.setBytes(index, bytes);
        } else if (value == null) {
            statement.setNull(
                    index, like instanceof byte[] ? Types.BINARY : like instanceof Long ? Types.BIGINT : Types.NULL);
        } else {
            statement.setObject(index, value);
        }
    }
}
