package dev.vacancy.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.h2.jdbcx.JdbcDataSource;
import org.junit.jupiter.api.Test;

/** Schemas as real databases have them: odd names, parts of tables, circles, large tables. */
class OddSchemasTest {
    private static final By ODILE = By.user("odile");

    @OnEveryEngine
    void aNameIsOnlyAName(Engine engine) {
        // MariaDB makes a longer name of it for its foreign key.
        String longest = "n".repeat(engine == Engine.MARIADB ? 50 : 61);
        List<String> names = new ArrayList<>(List.of(
                "parent",
                "t0",
                "t1",
                "k",
                "p",
                "f",
                "vacancy_found",
                "vacancy_keys",
                "select",
                "Order By",
                "a\"b",
                "it's",
                "dot.ted",
                "🐝 hive",
                longest,
                "any",
                "unnest",
                "depth",
                "o0",
                "c0",
                "values"));
        if (engine != Engine.SQLITE) {
            names.add("json_each");
        }
        // MariaDB has no such letters in names, and the tests' own statements can't quote the quotes there.
        names.removeIf(name -> engine == Engine.MARIADB && name.matches(".*[\"'🐝].*"));
        for (String name : names) {
            Database database = engine.database();
            String table = quoted(name);
            String child = quoted(name + "_c");
            database.run(
                    "create table keeper (id int primary key, name varchar(20))",
                    "create table " + table + " (" + table + " int primary key, keeper_id int,"
                            + " foreign key (keeper_id) references keeper (id))",
                    "create table " + child + " (id int primary key, " + table + " int, foreign key (" + table
                            + ") references " + table + " (" + table + "))",
                    "insert into keeper values (1, 'Odile'), (2, 'Tam')",
                    "insert into " + table + " values (1, 1), (2, 2), (3, 2)",
                    "insert into " + child + " values (11, 1), (12, 2), (13, 3)");
            Link link = Vacancy.over(database.source()).catalog().links().stream()
                    .filter(each -> !each.parent().name().equals("keeper"))
                    .findFirst()
                    .orElseThrow();
            Vacancy vacancy =
                    Vacancy.over(database.source(), RuleBook.bySchema().on(link.where(), Clause.cascade()));

            Plan plan = vacancy.plan(
                    Selection.of(link.parent().name()).where(Criteria.parse("keeper_id.name = 'Tam'")), ODILE);
            vacancy.run(Approval.of(plan));

            assertThat(plan.roots()).as(name).hasSize(2);
            assertThat(database.rows("select id from " + child)).as(name).containsExactly("11");
            assertThat(database.count("keeper")).as(name).isEqualTo(2);
        }
    }

    private static String quoted(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }

    @Test
    void onPostgresPartitionsBelongToTheirTable() {
        Database database = Engine.POSTGRESQL.database();
        database.run(
                "create table hive (hive_id int primary key)",
                "create table reading (reading_id int, hive_id int not null references hive (hive_id) on delete cascade,"
                        + " day date not null, primary key (reading_id, day)) partition by range (day)",
                "create table reading_may partition of reading for values from ('2026-05-01') to ('2026-06-01')",
                "create table reading_june partition of reading for values from ('2026-06-01') to ('2026-07-01')",
                "create table remark (id int primary key, reading_id int, day date, foreign key (reading_id, day)"
                        + " references reading (reading_id, day) on delete cascade)",
                "create table log (log_id int primary key, hive_id int references hive (hive_id) on delete cascade)",
                "create table log_old (constraint old foreign key (hive_id) references hive (hive_id) on delete cascade)"
                        + " inherits (log)",
                "insert into hive values (1), (2)",
                "insert into reading values (1, 1, '2026-05-02'), (2, 1, '2026-06-02'), (3, 2, '2026-06-03')",
                "insert into remark values (1, 1, '2026-05-02'), (2, 3, '2026-06-03')",
                "insert into log values (1, 1)",
                "insert into log_old values (2, 1), (3, 2)");
        Vacancy vacancy = Vacancy.over(database.source());

        Plan plan = vacancy.plan(Selection.of("hive").key(1), ODILE);
        vacancy.run(Approval.of(plan));

        assertThat(vacancy.catalog().tables())
                .extracting(Table::name)
                .containsExactly("hive", "log", "reading", "remark");
        assertThat(plan.counts())
                .containsOnly(
                        java.util.Map.entry("hive", 1L),
                        java.util.Map.entry("reading", 2L),
                        java.util.Map.entry("remark", 1L),
                        java.util.Map.entry("log", 2L));
        assertThat(database.contents("reading", "remark", "log"))
                .containsExactly("reading: [3|2|2026-06-03]", "remark: [2|3|2026-06-03]", "log: [3|2]");
    }

    @Test
    void onSqliteAFirstColumnMayBeGeneratedAndAKeyEmpty() {
        Database database = Engine.SQLITE.database();
        database.run(
                "create table hive (twice int generated always as (hive_id * 2), hive_id int, code text, primary key (code))",
                "insert into hive (hive_id, code) values (1, 'a'), (2, 'b')");
        Vacancy vacancy = Vacancy.over(database.source());

        vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key("a"), ODILE)));
        assertThat(database.rows("select code from hive")).containsExactly("b");

        database.run("insert into hive (hive_id, code) values (3, null)");
        assertThatThrownBy(() -> vacancy.plan(Selection.of("hive").where(Criteria.parse("hive_id = 3")), ODILE))
                .extracting(failure -> ((VacancyException) failure).code())
                .isEqualTo(FailureCode.KEY_WITHOUT_VALUE);
    }

    @OnEveryEngine
    void recordsThatPointAtThemselvesOrEachOtherAreFollowedOnce(Engine engine) {
        Database database = engine.database();
        int many = 3_000;
        String rows = IntStream.rangeClosed(3, many)
                .mapToObj(id -> "(" + id + ", " + (id % 3) + ")")
                .collect(Collectors.joining(", "));
        database.run(
                "create table queen (queen_id int primary key, mother_id int)",
                "insert into queen values (0, 0), (1, 2), (2, 1)",
                "insert into queen values " + rows);
        RuleBook rules = RuleBook.bySchema().link("queen.mother_id", "queen").on("queen.mother_id", Clause.cascade());
        Vacancy vacancy = Vacancy.over(database.source(), rules);

        Plan plan = vacancy.plan(Selection.of("queen").keys(List.of(0, 1)), ODILE);
        vacancy.run(Approval.of(plan));

        assertThat(plan.counts()).containsEntry("queen", many + 1L);
        assertThat(database.count("queen")).isZero();
    }

    @Test
    void theCatalogIsTheConnectionsOwnSchemaAndWhatLinksConnect() {
        Database database = Engine.POSTGRESQL.database();
        database.schema("copy");
        database.schema("archive");
        database.run(
                "create table hive (hive_id int primary key)",
                "create table copy.hive (hive_id int primary key)",
                "create table copy.frame (frame_id int primary key, hive_id int references copy.hive)",
                "create table archive.inspection (id int primary key, hive_id int references hive)");

        assertThat(Vacancy.over(database.source()).catalog().tables())
                .extracting(Table::name)
                .containsExactlyInAnyOrder("hive", "archive.inspection");
        assertThat(Vacancy.over(database.source(), RuleBook.bySchema().schemas("copy"))
                        .catalog()
                        .tables())
                .extracting(Table::name)
                .contains("copy.hive", "copy.frame");
    }

    @Test
    void onH2NamesMayBeFoldedToLowerCase() {
        JdbcDataSource source = new JdbcDataSource();
        source.setURL("jdbc:h2:mem:" + UUID.randomUUID() + ";DB_CLOSE_DELAY=-1;DATABASE_TO_LOWER=TRUE");
        try (Connection connection = source.getConnection()) {
            connection.createStatement().execute("create table hive (hive_id int primary key)");
            connection.createStatement().execute("insert into hive values (1), (2)");
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
        Vacancy vacancy = Vacancy.over(source);

        assertThat(vacancy.catalog().tables()).extracting(Table::name).containsExactly("hive");
        assertThat(vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(1), ODILE)))
                        .counts())
                .containsEntry("hive", 1L);
    }

    @Test
    void whereTheDatabaseDeletesByItselfNothingIsEmptiedFirst() {
        for (Engine engine : List.of(Engine.POSTGRESQL, Engine.SQLITE)) {
            Database database = engine.database();
            database.run(
                    "create table queen (queen_id int primary key, line int, mother_id int,"
                            + " foreign key (mother_id) references queen (queen_id) on delete cascade)",
                    "create unique index one_founder on queen (line) where mother_id is null",
                    "insert into queen values (1, 1, null), (2, 1, 1), (3, 1, 2), (4, 2, null)");
            Vacancy vacancy = Vacancy.over(database.source());

            vacancy.run(Approval.of(vacancy.plan(Selection.of("queen").key(1), ODILE)));

            assertThat(database.rows("select queen_id from queen"))
                    .as(engine.name())
                    .containsExactly("4");
        }
    }

    @OnEveryEngine
    void anEmptyCatalogIsToldAtOnce(Engine engine) {
        assertThatThrownBy(() -> Vacancy.over(engine.database().source()))
                .extracting(failure -> ((VacancyException) failure).code())
                .isEqualTo(FailureCode.EMPTY_CATALOG);
    }

    @OnEveryEngine
    void thousandsOfAlternativesAndAMillionCharactersAreOneCriteria(Engine engine) {
        Database database = engine.database();
        database.run(
                "create table hive (hive_id int primary key, kilos int, name varchar(20))",
                "insert into hive values (1, 5, 'a'), (2, 6, 'b')");
        Vacancy vacancy = Vacancy.over(database.source());
        Criteria either = Criteria.column("kilos").equalTo(5);
        Criteria range = Criteria.column("kilos").lessThan(-1);
        for (int i = 0; i < 3_000; i++) {
            either = either.or(Criteria.column("kilos").equalTo(1_000 + i));
            range = range.or(Criteria.column(i % 2 == 0 ? "kilos" : "hive_id").lessThan(-i));
        }
        String text = IntStream.range(0, 120_000)
                .mapToObj(i -> String.valueOf(1_000_000 + i))
                .collect(Collectors.joining(", ", "kilos in (5, ", ")"));
        assertThat(text.length()).isGreaterThan(1_000_000);

        assertThat(vacancy.plan(Selection.of("hive").where(either), ODILE).roots())
                .hasSize(1);
        assertThat(vacancy.plan(
                                Selection.of("hive")
                                        .where(range.or(
                                                Criteria.column("hive_id").equalTo(2))),
                                ODILE)
                        .roots())
                .hasSize(1);
        assertThat(vacancy.plan(Selection.of("hive").where(Criteria.parse(text)), ODILE)
                        .roots())
                .hasSize(1);
    }

    @Test
    void onMariaDbNoTableIsReadAsAWhole() throws SQLException {
        Database database = Engine.MARIADB.database();
        database.run(
                "create table hive (hive_id bigint unsigned primary key)",
                "create table move (move_id int primary key, from_hive bigint unsigned not null, to_hive bigint unsigned not null,"
                        + " foreign key (from_hive) references hive (hive_id) on delete cascade,"
                        + " foreign key (to_hive) references hive (hive_id) on delete cascade)",
                "insert into hive select seq from seq_1_to_5000",
                "insert into move select seq, 1 + seq % 5000, 1 + (seq * 7) % 5000 from seq_1_to_50000",
                "analyze table hive, move");
        Vacancy vacancy = Vacancy.over(database.source());
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);
            long before = rowsRead(connection);

            Plan plan = joined.plan(
                    Selection.of("hive")
                            .keys(IntStream.rangeClosed(1, 20).boxed().toList()),
                    ODILE);
            joined.run(Approval.of(plan));

            assertThat(plan.counts().get("move")).isBetween(350L, 400L);
            assertThat(rowsRead(connection) - before).isLessThan(20_000);
            connection.rollback();
        }
    }

    private static long rowsRead(Connection connection) throws SQLException {
        return Database.rows(connection, "show session status like 'Handler_read_%'").stream()
                .mapToLong(row -> Long.parseLong(row.substring(row.indexOf('|') + 1)))
                .sum();
    }
}
