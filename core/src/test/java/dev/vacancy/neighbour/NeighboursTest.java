package dev.vacancy.neighbour;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.Limits;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TimeZone;
import java.util.UUID;
import java.util.function.IntPredicate;
import java.util.regex.Pattern;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;

/**
 * A key that was read is the key that is sent: of records whose keys differ as little as the type allows, one is deleted
 * with its children, and no other with its own; whatever else goes, it stays. Each type is tried alone and in a composite key, in small sets and in large
 * ones, with the virtual machine in three time zones, one of them with summer time.
 */
class NeighboursTest {
    private static final String SUMMER_TIME = "Europe/Berlin";
    private static final List<String> ZONES = List.of("UTC", SUMMER_TIME, "Pacific/Kiritimati");

    /** The types to which the virtual machine's time zone could matter. */
    private static final Pattern OF_TIME = Pattern.compile("date|time|interval|year");

    private static final By ODILE = By.user("odile");
    private static final RuleBook TRAILED = RuleBook.bySchema().trail(Trail.defaults());

    /** Types of which a text doesn't say whether it stands for a number, for text or for bytes. */
    private static final Set<String> WITHOUT_TEXT = Set.of("", "blob", "text", "floating", "int array");

    private static final int MANY = 2_100;
    private static final int FEW = 3;

    /** Of how many types one is tried in large sets as well; {@code -Dvacancy.test.large=1}: all of them. */
    private static final int LARGE = Integer.getInteger("vacancy.test.large", 8);

    @TestFactory
    Stream<DynamicTest> onH2() {
        return on(Engine.H2);
    }

    @TestFactory
    Stream<DynamicTest> onPostgres() {
        return on(Engine.POSTGRESQL);
    }

    @TestFactory
    Stream<DynamicTest> onMariaDb() {
        return on(Engine.MARIADB);
    }

    @TestFactory
    Stream<DynamicTest> onSqlite() {
        return on(Engine.SQLITE);
    }

    private static Stream<DynamicTest> on(Engine engine) {
        Database database = engine.database();
        KeyTypes.definitions(engine).forEach(database::run);
        database.run("create table numbers (n int primary key)");
        Ddl.of(database.source(), TRAILED).apply();
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        for (int start = 1; start <= MANY; start += 700) {
            StringBuilder rows = new StringBuilder("insert into numbers values (" + start + ")");
            for (int n = start + 1; n < start + 700; n++) {
                rows.append(", (").append(n).append(')');
            }
            database.run(rows.toString());
        }
        List<DynamicTest> tests = new ArrayList<>();
        List<String> types = List.copyOf(KeyTypes.of(engine).keySet());
        for (String zone : ZONES) {
            KeyTypes.of(engine).forEach((type, values) -> {
                if (!zone.equals(SUMMER_TIME) && !OF_TIME.matcher(type).find()) {
                    return;
                }
                String name = (type.isEmpty() ? "no type" : type) + " in " + zone;
                tests.add(DynamicTest.dynamicTest(name, () -> inZone(zone, () -> alone(database, type, values))));
                int rows = zone.equals(SUMMER_TIME) && types.indexOf(type) % LARGE == 0 ? MANY : FEW;
                tests.add(DynamicTest.dynamicTest(
                        "composite, " + rows + ", " + name,
                        () -> inZone(zone, () -> composite(database, type, values, rows))));
            });
        }
        return tests.stream();
    }

    private interface Work {
        void run() throws SQLException;
    }

    private static void inZone(String zone, Work work) throws SQLException {
        TimeZone usual = TimeZone.getDefault();
        TimeZone.setDefault(TimeZone.getTimeZone(zone));
        try {
            work.run();
        } finally {
            TimeZone.setDefault(usual);
        }
    }

    /** Whether keys are held or left in the database makes no difference. */
    private static Limits held(String type) {
        return Limits.defaults().keysHeld(type.length() % 2 == 0 ? 0 : 10_000);
    }

    private static void alone(Database database, String type, List<String> values) throws SQLException {
        database.run(
                "drop table if exists child",
                "drop table if exists hive",
                "create table hive (k " + type + " primary key, note int)",
                "create table child (id int primary key, k " + type
                        + ", foreign key (k) references hive (k) on delete cascade)");
        for (int i = 0; i < values.size(); i++) {
            database.run(
                    "insert into hive values (" + values.get(i) + ", " + i + ")",
                    "insert into child values (" + i + ", " + values.get(i) + ")");
        }
        Vacancy vacancy = Vacancy.over(database.source()).withLimits(held(type));
        inChunks(database, values.size());
        for (int i = 0; i < values.size(); i++) {
            Plan one = vacancy.plan(
                    Selection.of("hive").where(Criteria.column("note").equalTo(i)), ODILE);
            assertThat(one.counts()).as(values.get(i)).containsEntry("hive", 1L).containsEntry("child", 1L);
            Object key = one.roots().get(0).key().values().get(0);
            String what = values.get(i) + " read as " + key;
            assertOnly(database, vacancy, Selection.of("hive").key(key), i, what);
            assertOnly(
                    database,
                    vacancy,
                    Selection.of("hive").where(Criteria.column("k").equalTo(key)),
                    i,
                    what);
            assertOnly(
                    database,
                    vacancy,
                    Selection.of("hive").where(Criteria.column("k").oneOf(List.of(key, key))),
                    i,
                    what);
            if (!WITHOUT_TEXT.contains(type)) {
                assertOnly(
                        database,
                        vacancy,
                        Selection.of("hive").key(one.roots().get(0).key().text()),
                        i,
                        what + " as text");
            }
        }
    }

    /** A bulk run keeps its keys as text: all records but one go, each in a chunk of its own, and come back afterwards. */
    private static void inChunks(Database database, int values) {
        Vacancy vacancy = Vacancy.over(database.source(), TRAILED);
        BulkRuns runs = vacancy.bulk();
        Selection others = Selection.of("hive").where(Criteria.column("note").notEqualTo(0));
        BulkOptions options = BulkOptions.defaults().chunk(1);

        UUID run = runs.start(Approval.inChunks(vacancy.plan(others, ODILE)), options)
                .runId();
        BulkRun end = runs.work(run, options, Exemption.none(), each -> {});
        assertThat(end.done()).as("%s", runs.failures(run, values)).isEqualTo(values - 1L);
        assertThat(database.rows("select note from hive")).containsExactly("0");
        assertThat(database.rows("select id from child")).containsExactly("0");

        vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, ODILE)));
        assertThat(
                        database.rows(
                                "select count(*), count(distinct c.id) from hive h join child c on c.k = h.k and c.id = h.note"))
                .containsExactly(values + "|" + values);
    }

    /** Deletes inside a transaction that is taken back, so that the next one finds all of them again. */
    private static void assertOnly(Database database, Vacancy vacancy, Selection selection, int i, String what)
            throws SQLException {
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);
            List<String> expected = others(connection, "hive", "note", i);
            List<String> expectedChildren = others(connection, "child", "id", i);
            Plan plan = joined.plan(selection, ODILE);
            assertThat(plan.roots()).as("found by %s: %s", selection, what).hasSize(1);
            joined.run(Approval.of(plan));
            assertThat(Database.rows(connection, "select note from hive order by note"))
                    .as(what)
                    .isEqualTo(expected);
            assertThat(Database.rows(connection, "select id from child order by id"))
                    .as(what)
                    .isEqualTo(expectedChildren);
            connection.rollback();
        }
    }

    private static List<String> others(Connection connection, String table, String column, int but)
            throws SQLException {
        return Database.rows(
                connection,
                "select " + column + " from " + table + " where " + column + " <> " + but + " order by " + column);
    }

    private static void composite(Database database, String type, List<String> values, int rows) throws SQLException {
        database.run(
                "drop table if exists child",
                "drop table if exists hive",
                "create table hive (n int, k " + type + ", note int, primary key (n, k))",
                "create table child (id int, note int, n int, k " + type
                        + ", primary key (id, note), foreign key (n, k) references hive (n, k) on delete cascade)",
                "create index child_by_hive on child (n, k)");
        for (int i = 0; i < values.size(); i++) {
            database.run(
                    "insert into hive select n, " + values.get(i) + ", " + i + " from numbers where n <= " + rows,
                    "insert into child select n, " + i + ", n, " + values.get(i) + " from numbers where n <= " + rows);
        }
        Vacancy vacancy = Vacancy.over(database.source()).withLimits(held(type));
        int last = values.size() - 1;
        assertOnly(database, vacancy, Criteria.column("note").equalTo(last), note -> note < last, values.size(), rows);
        // All the others at once: what differs in nothing but its type must not change its type on the way.
        assertOnly(
                database, vacancy, Criteria.column("note").lessThan(last), note -> note == last, values.size(), rows);
    }

    /** Deletes by keys, inside a transaction that is taken back. */
    private static void assertOnly(
            Database database, Vacancy vacancy, Criteria criteria, IntPredicate staying, int notes, int rows)
            throws SQLException {
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);
            // A plan that leaves out what is blocked knows each of its records, however many there are.
            Plan all = joined.plan(Selection.of("hive").where(criteria).skippingBlocked(), ODILE);
            List<List<Object>> keys =
                    all.roots().stream().map(root -> root.key().values()).toList();
            Plan plan = joined.plan(Selection.of("hive").keys(keys), ODILE);
            joined.run(Approval.of(plan));
            for (String table : List.of("hive", "child")) {
                assertThat(Database.rows(
                                connection, "select note, count(*) from " + table + " group by note order by note"))
                        .as(table)
                        .isEqualTo(IntStream.range(0, notes)
                                .filter(staying)
                                .mapToObj(note -> note + "|" + rows)
                                .toList());
            }
            connection.rollback();
        }
    }
}
