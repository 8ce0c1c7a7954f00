package dev.vacancy.criteria;

import static dev.vacancy.Criteria.column;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.ColumnCriteria;
import dev.vacancy.Criteria;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Moment;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.condition.SqlCondition;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.schema.CatalogReader;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Which records a criteria picks, given by API and as text; and what is refused. */
class CriteriaTest {
    private static final Clock JUNE = Clock.fixed(Instant.parse("2026-06-01T12:00:00Z"), ZoneOffset.UTC);

    @OnEveryEngine
    void textAndApiPickTheSame(Engine engine) {
        Database database = hives(engine);

        assertPicks(database, "hive_id = 2", column("hive_id").equalTo(2), 2);
        assertPicks(database, "HIVE_ID <> '2'", column("hive_id").notEqualTo("2"), 1, 3, 4);
        assertPicks(database, "hive_id in (1, 3, 99)", column("hive_id").oneOf(List.of(1, 3, 99)), 1, 3);
        assertPicks(
                database,
                "hive_id < 2 or hive_id >= 4",
                column("hive_id").lessThan(2).or(column("hive_id").atLeast(4)),
                1,
                4);
        assertPicks(database, "kilos between 10 and 20.5", column("kilos").between(10, "20.5"), 1, 2);
        assertPicks(database, "name like 'Fell%'", column("name").like("Fell%"), 1, 2);
        assertPicks(database, "name is null", column("name").isNull(), 4);
        assertPicks(
                database,
                "not (name is null or kilos > 15)",
                column("name").isNull().or(column("kilos").greaterThan(15)).not(),
                1);
        assertPicks(database, "set_up_on <= '2026-03-03'", column("set_up_on").atMost(LocalDate.of(2026, 3, 3)), 1, 2);
        assertPicks(
                database,
                "set_up_on < today - 60 days",
                column("set_up_on").lessThan(Moment.parse("today - 60 days")),
                1,
                2,
                3);
        assertPicks(
                database,
                "weighed_at > now - 2 hours",
                column("weighed_at").greaterThan(Moment.parse("now - 2 hours")),
                4);
        assertPicks(database, "active = true", column("active").equalTo(true), 1, 3);
        assertPicks(database, "apiary.name = 'Bramble'", column("apiary.name").equalTo("Bramble"), 3, 4);
        assertPicks(
                database,
                "apiary_id.keeper.name like 'O%' and kilos > -1",
                column("apiary_id.keeper.name").like("O%").and(column("kilos").greaterThan(-1)),
                1,
                2);
        assertPicks(database, "hive.name like 'Fell%'", column("HIVE.name").like("Fell%"), 1, 2);
        assertPicks(database, "\"Group By\" = 'it''s; --'", column("Group By").equalTo("it's; --"), 3);
    }

    @OnEveryEngine
    void theTablesOwnNameNeverMeansAParentOfTheSameTable(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table queen (queen_id int primary key, name varchar(20), mother_id int,"
                                + " foreign key (mother_id) references queen (queen_id))",
                        "insert into queen values (1, 'Viola', null), (2, 'Tansy', 1)");

        assertThat(picked(database, "queen", Criteria.parse("queen.name = 'Viola'")))
                .containsExactly(1);
        assertThat(picked(database, "queen", Criteria.parse("mother_id.name = 'Viola'")))
                .containsExactly(2);
        assertThat(picked(database, "queen", Criteria.parse("queen.mother_id.queen.name = 'Viola'")))
                .containsExactly(2);
    }

    @OnEveryEngine
    void whatIsUnknownIsNotPickedNeitherByTheContrary(Engine engine) {
        Database database = hives(engine);

        assertPicks(database, "kilos > 15", column("kilos").greaterThan(15), 2);
        assertPicks(database, "not kilos > 15", column("kilos").greaterThan(15).not(), 1);
        assertPicks(
                database,
                "not (apiary.keeper.name = 'Odile')",
                column("apiary.keeper.name").notEqualTo("Odile"));
        assertPicks(
                database,
                "kilos not in (10)",
                column("kilos").oneOf(List.of(10)).not(),
                2);
        assertPicks(
                database, "name not like 'Fell%'", column("name").like("Fell%").not(), 3);
    }

    @OnEveryEngine
    void charactersThatSomeDatabasesTreatSpeciallyAreOrdinary(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table tag (id int primary key, name varchar(20))",
                        "insert into tag values (1, 'a\\b'), (2, 'a!b'), (3, 'a%b'), (4, 'aab')");

        assertThat(picked(database, "tag", column("name").like("a\\b"))).containsExactly(1);
        assertThat(picked(database, "tag", column("name").like("a!%"))).containsExactly(2);
        assertThat(picked(database, "tag", column("name").equalTo("a%b"))).containsExactly(3);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "hive_id = 1; drop table hive",
                "hive_id = 1 -- all",
                "hive_id = 1 /* all */",
                "hive_id = (select 1)",
                "hive_id in (select hive_id from hive)",
                "exists (select 1 from hive)",
                "hive_id = ?",
                "hive_id = :id",
                "lower(name) = 'x'",
                "name || 'x' = 'y'",
                "hive_id = apiary_id",
                "1 = 1",
                "true",
                "hive_id",
                "name similar to 'x'",
                "name regexp 'x'",
                "name ilike 'x'",
                "case when hive_id = 1 then true end",
                "hive_id::text = '1'",
                "(hive_id, name) = (1, 'x')",
                "hive_id = null",
                "name = N'x'",
                "set_up_on = current_date",
                "hive_id > all (1)",
                "name = 'x' collate \"C\"",
                "hive_id = 1 xor hive_id = 2",
                "hive_id between symmetric 3 and 1",
                "hive_id + 1 = 2",
                "hive_id = 1 and",
                "((((((((((((((hive_id = 1))))))))))))))",
                "name = 'unended",
                ""
            })
    void whatIsNoPartOfTheSubsetIsRefusedWithWhatIsAllowed(String text) {
        assertThatThrownBy(() -> Criteria.parse(text))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("Allowed are");
    }

    @Test
    void aRefusalTellsThePosition() {
        assertThatThrownBy(() -> Criteria.parse("hive_id = 1 and lower(name) = 'x'"))
                .hasMessageContaining("from character 17 on: 'lower(name)'");
        assertThatThrownBy(() -> Criteria.parse("hive_id = 1 or name ~ 'x'"))
                .hasMessageContaining("from character 21 on");
        assertThatThrownBy(() -> Criteria.parse("set_up_on < today - 3 fortnights"))
                .hasMessageContaining("from character 23 on");
        assertThatThrownBy(() -> Criteria.parse("set_up_on < now and weighed_at > now - 2 hours and name == 'x'"))
                .hasMessageContaining("from character 58 on");
        assertThatThrownBy(() -> Criteria.parse("set_up_on < today - 90 days and name = Fellside"))
                .hasMessageContaining(
                        "from character 40 on: 'Fellside' is a column's name where a value is expected; text is"
                                + " 'Fellside'.");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "hive_id = 1 or hive_id <> 1",
                "name is null or name is not null",
                "hive_id < 3 or (hive_id >= 3 or name = 'x')",
                "not (hive_id = 1 and hive_id <> 1)",
                "(kilos > 1 or kilos <= 1 or kilos is null) and (hive_id = 1 or not hive_id = 1)",
                "(hive_id = 1 and apiary_id = 2) or not (hive_id = 1 and apiary_id = 2) or apiary_id is null",
                "hive_id <= 1 or hive_id >= 2",
                "set_up_on < today or set_up_on >= today or set_up_on is null",
                "weighed_at < now or weighed_at >= now or weighed_at is null",
                "name like 'F%' or name not like 'F%' or name is null",
                "hive_id is not null",
                "hive_id <> 1 or hive_id <> 2",
                "hive_id < 5 or hive_id > 3",
                "hive_id between 2 and 3 or hive_id < 2 or hive_id > 3",
                "hive_id not in (1, 2) or hive_id = 1 or hive_id < 3",
                "kilos is null or kilos < 2 or kilos >= 2.0",
                "name like '%' or name is null",
                "active in (true, false) or active is null"
            })
    void whatPicksEverythingIsRefused(String text) {
        Database database = hives(Engine.H2);

        assertThatThrownBy(() -> picked(database, "hive", Criteria.parse(text)))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("picks every record of hive");
    }

    @Test
    void aLongListAndItsContraryPickEverythingToo() {
        List<Integer> many = IntStream.range(0, 30_000).boxed().toList();
        Criteria listed = Criteria.column("hive_id").oneOf(many);

        assertThatThrownBy(() -> picked(hives(Engine.H2), "hive", listed.or(listed.not())))
                .hasMessageContaining("picks every record of hive");
        Criteria unlisted =
                Criteria.column("hive_id").oneOf(many.subList(0, 1_000)).not();
        assertThat(picked(
                        hives(Engine.H2),
                        "hive",
                        unlisted.or(Criteria.column("hive_id").equalTo(2))))
                .containsExactly(2);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "hive_id > 0",
                "kilos is not null",
                "name like '%'",
                "hive_id < 3 or hive_id > 3",
                "active = true or active is null",
                "active = true or active = false",
                "kilos = 1 or kilos <> 1",
                "kilos > 1 or kilos <= 1",
                "apiary.name = 'Bramble' or apiary.name <> 'Bramble'",
                "apiary.apiary_id is not null",
                "apiary_id is null or apiary.name like 'B%'"
            })
    void whatLeavesSomethingOutIsUnderstood(String text) {
        Database database = hives(Engine.H2);

        assertThat(picked(database, "hive", Criteria.parse(text))).isNotEmpty();
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "hive_id = 'abc'",
                "colour = 'red'",
                "queen.name = 'x'",
                "set_up_on > 5",
                "hive_id > today",
                "hive_id like '1%'",
                "kilos = true",
                "active = 1"
            })
    void whatDoesntFitTheColumnsIsRefused(String text) {
        Database database = hives(Engine.H2);

        assertThatThrownBy(() -> picked(database, "hive", Criteria.parse(text)))
                .isInstanceOf(InvalidRequestException.class);
    }

    static Database hives(Engine engine) {
        return engine.database()
                .run(
                        "create table keeper (keeper_id int primary key, name varchar(20))",
                        "create table apiary (apiary_id int primary key, name varchar(20), keeper_id int references keeper (keeper_id))",
                        "create table hive (hive_id int primary key, name varchar(20), kilos numeric(6,2), set_up_on date,"
                                + " weighed_at timestamp, active boolean, apiary_id int references apiary (apiary_id),"
                                + " \"Group By\" varchar(20))",
                        "insert into keeper values (1, 'Odile'), (2, null)",
                        "insert into apiary values (1, 'Fellside', 1), (2, 'Bramble', 2)",
                        "insert into hive values"
                                + " (1, 'Fellside One', 10, '2026-03-01', '2026-05-01 10:00:00', true, 1, null),"
                                + " (2, 'Fellside Two', 20.5, '2026-03-03', null, false, 1, null),"
                                + " (3, 'Bramble One', null, '2026-04-01', '2026-06-01 10:00:00', true, 2, 'it''s; --'),"
                                + " (4, null, null, '2026-05-01', '2026-06-01 11:00:00', null, 2, null)");
    }

    private static void assertPicks(Database database, String text, Criteria criteria, Integer... expected) {
        assertThat(picked(database, "hive", criteria)).as(text).containsExactly(expected);
        assertThat(picked(database, "hive", Criteria.parse(text))).as(text).containsExactly(expected);
    }

    private static List<Integer> picked(Database database, String name, Criteria criteria) {
        try (Connection connection = database.connect()) {
            Dialect dialect = Dialect.of(connection);
            DatabaseCatalog catalog = CatalogReader.read(connection, dialect, List.of());
            Table table = catalog.table(name);
            List<Fragment> where = SqlCondition.alternatives(Resolution.of(criteria, table, catalog, JUNE), dialect);
            List<String> identity = dialect.names(Statements.alias(), table.identity());
            Fragment from = dialect.from(dialect.name(table), Statements.alias(), identity, where);
            Fragment query = Statements.inOrder(Statements.select(identity, from), identity);
            List<Integer> picked = new ArrayList<>();
            try (PreparedStatement statement = query.prepare(connection);
                    ResultSet row = statement.executeQuery()) {
                while (row.next()) {
                    picked.add(row.getInt(1));
                }
            }
            return picked;
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }

    @Test
    void aColumnTakesTheValuesOfAnApplicationOneConversionAfterTheOther() {
        ColumnCriteria<String> words = column("inspections", Integer.class).convertedBy(String::length);
        ColumnCriteria<Boolean> inspected = words.convertedBy((Boolean yes) -> yes ? "yes" : "no");

        assertThat(inspected.equalTo(true)).hasToString("inspections = 3");
        assertThat(inspected.oneOf(List.of(true, false))).hasToString("inspections in (3, 2)");
        assertThat(inspected.atLeast(Moment.today())).hasToString("inspections >= today");
    }
}
