package dev.vacancy.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.entry;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.Steps;
import java.util.Map;
import java.util.StringJoiner;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Records that point at each other: trees, chains and circles, and what opens them. */
class ShapesTest {
    private static final By ODILE = By.user("odile");

    /** {@code -Dvacancy.test.chain=100000} makes it a long one. */
    private static final int CHAIN = Integer.getInteger("vacancy.test.chain", 20_000);

    @OnEveryEngine
    void aLongChainGoesAsAWhole(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table queen (queen_id int primary key, mother_id int, foreign key (mother_id) references"
                                + " queen (queen_id) on delete cascade)",
                        "create index queen_by_mother on queen (mother_id)");
        for (int start = 0; start < CHAIN; start += 5_000) {
            StringJoiner rows = new StringJoiner(", ", "insert into queen values ", "");
            for (int i = start + 1; i <= start + 5_000; i++) {
                rows.add("(" + i + ", " + (i == 1 ? "null" : i - 1) + ")");
            }
            database.run(rows.toString());
        }
        Vacancy vacancy = Vacancy.over(database.counting());
        database.statements();

        var outcome = vacancy.run(Approval.of(vacancy.plan(Selection.of("queen").key(2), ODILE)));

        assertThat(outcome.counts()).containsOnly(entry("queen", CHAIN - 1L));
        assertThat(database.rows("select queen_id from queen")).containsExactly("1");
        assertThat(database.statements()).isLessThan(1_000);
    }

    @OnEveryEngine
    void aTreeWhoseForeignKeyMayNotBeNullGoesFromItsLeavesUp(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table queen (queen_id int primary key, mother_id int not null, foreign key (mother_id)"
                                + " references queen (queen_id) on delete cascade)",
                        "insert into queen values (1, 1)",
                        "insert into queen values (2, 1), (3, 1)",
                        "insert into queen values (4, 2), (5, 3), (6, 4)");

        assertThat(run(database, Selection.of("queen").key(2))).containsOnly(entry("queen", 3L));
        assertThat(database.rows("select queen_id from queen order by 1")).containsExactly("1", "3", "5");
        assertThat(run(database, Selection.of("queen").key(1))).containsOnly(entry("queen", 3L));
    }

    /** Its usual collations take letters of either case for the same, in foreign keys too. */
    @Test
    void onMariaDbForeignKeysInAnotherCaseAreFollowed() {
        Database database = Engine.MARIADB
                .database()
                .run(
                        "create table queen (name varchar(20) primary key, mother varchar(20),"
                                + " foreign key (mother) references queen (name) on delete cascade)",
                        "create table hive (hive_id int primary key, queen varchar(20),"
                                + " foreign key (queen) references queen (name) on delete cascade)",
                        "insert into queen values ('Viola', null), ('Elowen', 'VIOLA'), ('Tansy', 'elowen'), ('Isolde', null)",
                        "insert into hive values (1, 'TANSY'), (2, 'isolde')");

        assertThat(run(database, Selection.of("queen").key("Viola")))
                .containsOnly(entry("queen", 3L), entry("hive", 1L));
        assertThat(database.rows("select name from queen")).containsExactly("Isolde");
        assertThat(database.rows("select hive_id from hive")).containsExactly("2");
    }

    @OnEveryEngine
    void twoTablesWhoseForeignKeysMayNotBeNullGoLevelByLevel(Engine engine) {
        Database database = circleOfTwo(engine, "on delete cascade")
                .run(
                        "insert into hive values (2, 1)",
                        "insert into queen values (2, 2)",
                        "insert into hive values (3, 2)");

        assertThat(run(database, Selection.of("hive").key(2))).containsOnly(entry("hive", 2L), entry("queen", 1L));
        assertThat(database.rows("select hive_id from hive")).containsExactly("1");
        assertThat(database.rows("select queen_id from queen")).containsExactly("1");
    }

    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"H2", "POSTGRESQL", "MARIADB"})
    void aCircleOfRecordsThatNothingOpensIsSpelledOut(Engine engine) {
        Database database = circleOfTwo(engine, "on delete cascade");

        assertThatThrownBy(() -> plan(database, Selection.of("hive").key(1)))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("hive.queen_id -> queen")
                .hasMessageContaining("queen.hive_id -> hive")
                .hasMessageFindingMatch("hive 1 → queen 1 → hive 1|queen 1 → hive 1 → queen 1")
                .hasMessageContaining("deferrable");
    }

    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"POSTGRESQL", "SQLITE"})
    void aCircleWhoseChecksCanBePutOffGoesAsItIs(Engine engine) {
        Database database =
                circleOfTwo(engine, "on delete cascade" + (engine == Engine.POSTGRESQL ? " deferrable" : ""));

        Planned planned = Steps.of(database, Selection.of("hive").key(1));

        assertThat(planned.deferring()).isTrue();
        assertThat(planned.steps()).hasOnlyElementsOfType(Step.Delete.class);
        assertThat(run(database, Selection.of("hive").key(1))).containsOnly(entry("hive", 1L), entry("queen", 1L));
        assertThat(database.count("hive")).isZero();
    }

    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"POSTGRESQL", "SQLITE"})
    void whatACascadeTakesBeforeItsTurnIsCountedAndNothingIsInItsWay(Engine engine) {
        String later = "on delete cascade" + (engine == Engine.POSTGRESQL ? " deferrable" : "");
        Database database = engine.database()
                .run(
                        "create table hive (hive_id int primary key, keeper_id int)",
                        "create table apiary (apiary_id int primary key, hive_id int,"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                        "create table keeper (keeper_id int primary key, apiary_id int not null,"
                                + " foreign key (apiary_id) references apiary (apiary_id) " + later + ")",
                        "create table visit (visit_id int primary key, keeper_id int not null,"
                                + " foreign key (keeper_id) references keeper (keeper_id) on delete restrict)",
                        "alter table hive add foreign key (keeper_id) references keeper (keeper_id) on delete cascade",
                        "insert into hive values (1, null), (2, null), (3, null)",
                        "insert into apiary values (1, 1)",
                        "insert into keeper values (1, 1)",
                        "insert into visit values (1, 1)",
                        "update hive set keeper_id = 1 where hive_id < 3");
        Vacancy vacancy = Vacancy.over(database.source(), RuleBook.bySchema().on("visit.keeper_id", Clause.cascade()));
        Plan plan = vacancy.plan(Selection.of("hive").key(1), ODILE);

        Outcome outcome = vacancy.run(Approval.of(plan));

        assertThat(outcome.counts())
                .containsOnly(entry("hive", 2L), entry("apiary", 1L), entry("keeper", 1L), entry("visit", 1L));
        assertThat(database.rows("select hive_id from hive")).containsExactly("3");
        assertThat(database.count("visit") + database.count("keeper") + database.count("apiary"))
                .isZero();
    }

    @OnEveryEngine
    void aCircleOfThreeTablesIsOpenedAtTheColumnThatMayBeNull(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table keeper (keeper_id int primary key, apiary_id int)",
                        "create table hive (hive_id int primary key, keeper_id int not null, foreign key (keeper_id)"
                                + " references keeper (keeper_id) on delete cascade)",
                        "create table apiary (apiary_id int primary key, hive_id int not null, foreign key (hive_id)"
                                + " references hive (hive_id) on delete cascade)",
                        "alter table keeper add foreign key (apiary_id) references apiary (apiary_id) on delete cascade",
                        "insert into keeper values (1, null), (2, null)",
                        "insert into hive values (1, 1), (2, 2)",
                        "insert into apiary values (1, 1), (2, 2)",
                        "update keeper set apiary_id = keeper_id");

        assertThat(run(database, Selection.of("apiary").key(1)))
                .containsOnly(entry("apiary", 1L), entry("keeper", 1L), entry("hive", 1L));
        assertThat(database.rows("select apiary_id from keeper")).containsExactly("2");
    }

    @Test
    void onlyTheColumnsThatSetNullNamesAreEmptied() {
        Database database = Engine.POSTGRESQL
                .database()
                .run(
                        "create table stand (apiary_id int, row_no int, primary key (apiary_id, row_no))",
                        "create table hive (hive_id int primary key, apiary_id int not null, row_no int,"
                                + " foreign key (apiary_id, row_no) references stand on delete set null (row_no))",
                        "insert into stand values (1, 1)",
                        "insert into hive values (1, 1, 1)");

        run(database, Selection.of("stand").key(1, 1));

        assertThat(database.rows("select * from hive")).containsExactly("1|1|null");
    }

    /** A hive that names its queen and a queen that names her hive, neither of which may be missing. */
    private static Database circleOfTwo(Engine engine, String action) {
        Database database = engine.database()
                .run(
                        "create table queen (queen_id int primary key, hive_id int not null)",
                        "create table hive (hive_id int primary key, queen_id int not null)",
                        "insert into hive values (1, 1)",
                        "insert into queen values (1, 1)");
        return database.run(
                "alter table queen add foreign key (hive_id) references hive (hive_id) " + action,
                "alter table hive add foreign key (queen_id) references queen (queen_id) " + action);
    }

    private static Plan plan(Database database, Selection selection) {
        return Vacancy.over(database.source()).plan(selection, ODILE);
    }

    private static Map<String, Long> run(Database database, Selection selection) {
        Vacancy vacancy = Vacancy.over(database.source());
        Plan plan = vacancy.plan(selection, ODILE);
        Map<String, Long> counts = vacancy.run(Approval.of(plan)).counts();
        assertThat(counts).isEqualTo(plan.counts());
        return counts;
    }
}
