package dev.vacancy.retirement;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Question;
import dev.vacancy.Vacancy;
import dev.vacancy.retirement.Dependent.Fate;
import dev.vacancy.rule.Ddl;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.time.Period;
import java.util.List;
import java.util.UUID;
import java.util.stream.Stream;
import org.h2.api.Trigger;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** What comes back from its files is what it was, to the last remark; and what couldn't come back isn't dropped. */
class BackAsItWasTest {
    private static final By ODILE = By.user("odile");

    @TempDir
    Path folder;

    private static Database with(Engine engine, String... statements) {
        Database database = engine.database().run(statements);
        Ddl.of(database.source(), Ddl.Part.RETIREMENTS).apply();
        return database;
    }

    private static RetirementOutcome agreed(Vacancy vacancy, RetirementPlan plan) {
        Question question = Question.about(plan);
        return vacancy.retire(question.answer(question.typed().orElse("yes")).orElseThrow());
    }

    private UUID drop(Database database, Retirement wish) {
        Vacancy vacancy = Vacancy.over(database.source());
        UUID id =
                agreed(vacancy, vacancy.plan(wish.keptFor(Period.ZERO), ODILE)).id();
        Vacancy later = Vacancy.over(database.source());
        agreed(later, later.retirements().planDrop(id, folder, ODILE));
        return id;
    }

    private static RetirementOutcome bringBack(Database database, UUID id) {
        Vacancy vacancy = Vacancy.over(database.source());
        return agreed(vacancy, vacancy.retirements().planReturn(id, ODILE));
    }

    private static RetirementPlan plan(Database database, Retirement wish) {
        return Vacancy.over(database.source()).plan(wish, ODILE);
    }

    private static Stream<String> inTheWay(RetirementPlan plan) {
        return plan.dependents().stream()
                .filter(object -> object.fate() == Fate.IN_THE_WAY)
                .map(object -> object.kind() + " " + object.name());
    }

    @OnEveryEngine
    void aRecordWithoutAValueHasNoneAfterwards(Engine engine) {
        Database database = with(
                engine,
                "create table hive (hive_id int primary key, wood varchar(20) default 'oak')",
                "insert into hive values (1, 'pine'), (2, null), (3, 'oak')");

        UUID id = drop(database, Retirement.ofColumn("hive", "wood"));
        database.run("insert into hive (hive_id) values (4)");
        bringBack(database, id);

        assertThat(database.rows("select hive_id, wood from hive where hive_id < 4 order by hive_id"))
                .containsExactly("1|pine", "2|null", "3|oak");
    }

    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "SQLITE"})
    void noTriggerTakesAReturnForAChange(Engine engine) {
        Database database = with(
                engine,
                "create table hive (hive_id int primary key, wood varchar(20), changes int default 0)",
                "insert into hive (hive_id, wood) values (1, 'pine'), (2, 'oak')");
        if (engine == Engine.POSTGRESQL) {
            database.run(
                    "create function counted() returns trigger language plpgsql as 'begin new.changes = old.changes + 1; return new; end'",
                    "create trigger counting before update on hive for each row execute function counted()");
        } else {
            database.run(
                    "create trigger counting after update on hive when new.changes = old.changes begin update hive set changes = changes + 1 where hive_id = new.hive_id; end");
        }
        List<String> schema = SchemaDump.of(engine, database);

        bringBack(database, drop(database, Retirement.ofColumn("hive", "wood")));

        assertThat(database.rows("select wood, changes from hive order by hive_id"))
                .containsExactly("pine|0", "oak|0");
        assertThat(SchemaDump.of(engine, database)).isEqualTo(schema);
        database.run("update hive set wood = 'ash' where hive_id = 1");
        assertThat(database.rows("select changes from hive order by hive_id")).containsExactly("1", "0");
    }

    /** Counts changes of hives, for H2, whose triggers are classes. */
    public static final class Counting implements Trigger {
        @Override
        public void fire(Connection connection, Object[] before, Object[] after) {
            after[2] = (Integer) before[2] + 1;
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "MARIADB"})
    void aTriggerThatCannotBeKeptStillIsInTheWayOfAReturn(Engine engine) {
        Database database = with(
                engine,
                "create table hive (hive_id int primary key, wood varchar(20), changes int default 0)",
                "insert into hive (hive_id, wood) values (1, 'pine')",
                engine == Engine.H2
                        ? "create trigger counting before update on hive for each row call '" + Counting.class.getName()
                                + "'"
                        : "create trigger counting before update on hive for each row set new.changes = old.changes + 1");
        UUID id = drop(database, Retirement.ofColumn("hive", "wood"));

        RetirementPlan blocked = Vacancy.over(database.source()).retirements().planReturn(id, ODILE);

        assertThat(inTheWay(blocked)).containsExactly("trigger counting");
        assertThat(blocked.dependents().get(0).remedy().orElseThrow()).contains("Drop it first");
        database.run("drop trigger counting");
        bringBack(database, id);
        assertThat(database.rows("select wood, changes from hive")).containsExactly("pine|0");
    }

    @OnEveryEngine
    void theOnlyTableOfADatabaseComesBack(Engine engine) {
        Database database = with(
                engine,
                "create table hive (hive_id int primary key, wood varchar(20))",
                "insert into hive values (1, 'oak')");

        UUID id = drop(database, Retirement.ofTable("hive"));

        assertThatThrownBy(() -> plan(database, Retirement.ofTable("hive"))).hasMessageContaining("hive");
        bringBack(database, id);
        assertThat(database.rows("select * from hive")).containsExactly("1|oak");
    }

    @OnEveryEngine
    void lettersOfAllKindsAreNames(Engine engine) {
        Database database = with(
                engine,
                "create table \"ruche été\" (\"numéro\" int primary key, \"עץ \"\"vieux\"\"\" varchar(20))",
                "create index \"par עץ\" on \"ruche été\" (\"עץ \"\"vieux\"\"\")",
                "insert into \"ruche été\" values (1, 'chêne')");
        List<String> schema = SchemaDump.of(engine, database);

        String column = engine == Engine.MARIADB ? "עץ `vieux`" : "עץ \"vieux\"";
        bringBack(database, drop(database, Retirement.ofColumn("ruche été", column)));
        bringBack(database, drop(database, Retirement.ofTable("ruche été")));

        assertThat(SchemaDump.of(engine, database)).isEqualTo(schema);
        assertThat(database.rows("select * from \"ruche été\"")).containsExactly("1|chêne");
    }

    @Test
    void whatPostgresqlHasOnATableComesBackToTheLastRemark() {
        Database database = with(
                Engine.POSTGRESQL,
                "create table hive (hive_id int generated always as identity (start with 10 increment by 5 minvalue 5 maxvalue 900 cycle) primary key,"
                        + " wood text, weight int, constraint heavy check (weight > 0))",
                "insert into hive (wood, weight) values ('oak', 3), ('ash', 4)",
                "create index by_weight on hive (weight)",
                "create statistics both_of_it on weight, hive_id from hive",
                "alter table hive alter column wood set statistics 500",
                "alter table hive alter column weight set (n_distinct = 7)",
                "create publication of_hives for table hive (hive_id, weight) where (hive_id > 2)",
                "comment on constraint heavy on hive is 'no hive floats'",
                "comment on index by_weight is 'for the scales'",
                "comment on statistics both_of_it is 'they go together'");
        List<String> remarks = remarks(database);

        bringBack(database, drop(database, Retirement.ofTable("hive")));

        assertThat(remarks(database)).isEqualTo(remarks).hasSizeGreaterThan(8);
        database.run("insert into hive (wood, weight) values ('elm', 5)");
        assertThat(database.rows("select * from hive order by hive_id"))
                .containsExactly("10|oak|3", "15|ash|4", "20|elm|5");
        bringBack(database, drop(database, Retirement.ofColumn("hive", "wood")));
        assertThat(remarks(database)).isEqualTo(remarks);
    }

    private static List<String> remarks(Database database) {
        return Stream.of(
                        "select conname, pg_get_constraintdef(oid), obj_description(oid, 'pg_constraint') from pg_constraint where conrelid = 'hive'::regclass order by 1",
                        "select indexrelid::regclass::text, obj_description(indexrelid, 'pg_class') from pg_index where indrelid = 'hive'::regclass order by 1",
                        "select pg_get_statisticsobjdef(oid), obj_description(oid, 'pg_statistic_ext') from pg_statistic_ext",
                        "select attname, attstattarget, attoptions from pg_attribute where attrelid = 'hive'::regclass and attnum > 0 and not attisdropped order by 1",
                        "select pubname, attnames, rowfilter from pg_publication_tables",
                        "select sequencename, start_value, increment_by, min_value, max_value, cycle from pg_sequences")
                .flatMap(query -> database.rows(query).stream())
                .toList();
    }

    @Test
    void aColumnComesBackUnderStatisticsOverSeveral() {
        Database database = with(
                Engine.POSTGRESQL,
                "create table hive (hive_id int primary key, wood text, weight int)",
                "create statistics both_of_it on wood, weight from hive");

        RetirementOutcome back = bringBack(database, drop(database, Retirement.ofColumn("hive", "wood")));

        assertThat(back.leftOut()).isEmpty();
        assertThat(database.rows("select pg_get_statisticsobjdef(oid) from pg_statistic_ext"))
                .containsExactly("CREATE STATISTICS public.both_of_it ON weight, wood FROM hive");
    }

    @Test
    void aViewComesBackWithWhatItsColumnsSay() {
        Database database = with(
                Engine.POSTGRESQL,
                "create table hive (hive_id int primary key, wood text)",
                "create view woods as select hive_id, wood from hive",
                "alter view woods alter column wood set default 'oak'",
                "comment on column woods.wood is 'what it is made of'",
                "grant select (wood) on woods to public",
                "create role keeper_of_" + UUID.randomUUID().toString().replace("-", ""));
        String role = database.rows("select max(rolname) from pg_roles where rolname like 'keeper_of_%'")
                .get(0);
        database.run("alter view woods owner to " + role);
        String facts =
                "select pg_get_userbyid(c.relowner), a.attname, a.attacl, pg_get_expr(d.adbin, d.adrelid), col_description(c.oid, a.attnum) from pg_class c join pg_attribute a on a.attrelid = c.oid"
                        + " left join pg_attrdef d on d.adrelid = c.oid and d.adnum = a.attnum where c.relname = 'woods' and a.attnum > 0 order by 2";
        List<String> before = database.rows(facts);

        bringBack(database, drop(database, Retirement.ofColumn("hive", "wood").along("woods")));

        assertThat(database.rows(facts)).isEqualTo(before);
        database.run("drop view woods", "drop role " + role);
    }

    @Test
    void whatUsesTheTableAsATypeIsInTheWay() {
        Database database = with(
                Engine.POSTGRESQL,
                "create table hive (hive_id int primary key, wood text)",
                "create table swap (swap_id int primary key, given hive)",
                "create function heavier(one hive) returns int language sql as 'select 1'");

        RetirementPlan plan = plan(database, Retirement.ofTable("hive"));

        assertThat(inTheWay(plan))
                .containsExactlyInAnyOrder(
                        "routine heavier", "setting column given of table swap", "setting function heavier(hive)");
    }

    @Test
    void aColumnThatAPublicationNamesIsInItsWay() {
        Database database = with(
                Engine.POSTGRESQL,
                "create table hive (hive_id int primary key, wood text, weight int)",
                "create publication of_hives for table hive (hive_id, wood)");

        assertThat(inTheWay(plan(database, Retirement.ofColumn("hive", "wood"))))
                .containsExactly("setting of_hives");
        assertThat(inTheWay(plan(database, Retirement.ofColumn("hive", "weight"))))
                .isEmpty();
    }

    /** A value that means the table itself means nothing while that isn't there. */
    @Test
    void whatCouldNotComeBackIsNotDropped() throws Exception {
        Database database = with(
                Engine.POSTGRESQL,
                "create table hive (hive_id int primary key, here regclass)",
                "insert into hive values (1, 'hive')");

        assertThatThrownBy(() -> drop(database, Retirement.ofTable("hive")))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("could not come back from its files")
                .hasMessageContaining("Nothing was dropped");

        try (Stream<Path> files = Files.list(folder)) {
            assertThat(files).isEmpty();
        }
        Vacancy vacancy = Vacancy.over(database.source());
        Retired retired = vacancy.retirements().list().get(0);
        assertThat(retired.state()).isEqualTo(Retired.State.SET_ASIDE);
        bringBack(database, retired.id());
        assertThat(database.rows("select * from hive")).containsExactly("1|hive");
    }

    @Test
    void whatMariaDbHasElsewhereUnderTheSameNameIsNotInTheWay() {
        Database other = with(
                Engine.MARIADB,
                "create table hive (hive_id int primary key, wood varchar(20))",
                "create view woods as select hive_id, wood from hive",
                "create view oaken as select hive_id from woods");
        Database database = with(
                Engine.MARIADB,
                "create table hive (hive_id int primary key, wood varchar(20))",
                "create table woods (woods_id int primary key)");

        assertThat(inTheWay(plan(database, Retirement.ofColumn("hive", "wood"))))
                .isEmpty();
        assertThat(inTheWay(plan(database, Retirement.ofTable("woods")))).isEmpty();
        assertThat(inTheWay(plan(other, Retirement.ofColumn("hive", "wood"))))
                .containsExactlyInAnyOrder("view oaken", "view woods");
    }

    @Test
    void whatMariaDbTellsOfAColumnIsReadAsItIsMeant() {
        Database database = with(
                Engine.MARIADB,
                "create table hive (hive_id int primary key, b varchar(20), flags bit(10) default b'11')",
                "create table log (log_id int primary key)",
                "create trigger told after insert on log for each row update hive set b = 'x' where hive_id = new.log_id");

        assertThat(inTheWay(plan(database, Retirement.ofColumn("hive", "b")))).containsExactly("trigger told");
    }

    @Test
    void earlierVersionsThatMariaDbKeepsAreInTheWay() {
        Database database = with(
                Engine.MARIADB, "create table hive (hive_id int primary key, wood varchar(20)) with system versioning");

        assertThat(plan(database, Retirement.ofTable("hive")).dependents()).anySatisfy(object -> {
            assertThat(object.fate()).isEqualTo(Fate.IN_THE_WAY);
            assertThat(object.remedy().orElseThrow()).contains("earlier versions");
        });
    }

    @Test
    void sqliteTakesATextForAName() {
        Database database = with(
                Engine.SQLITE,
                "create table hive ('hive_id' int primary key, 'wood' text default \"oak\", [weight] int)",
                "insert into hive values (1, null, 3)");

        bringBack(database, drop(database, Retirement.ofColumn("hive", "wood")));

        assertThat(database.rows("select hive_id, wood, weight from hive")).containsExactly("1|null|3");
    }

    @OnEveryEngine
    void whatTheTableHasGotSinceStaysWhenAColumnIsDropped(Engine engine) {
        Database database = with(
                engine,
                "create table hive (hive_id int primary key, wood varchar(20))",
                "insert into hive values (1, 'oak')");
        Vacancy vacancy = Vacancy.over(database.source());
        UUID id = agreed(
                        vacancy,
                        vacancy.plan(Retirement.ofColumn("hive", "wood").keptFor(Period.ZERO), ODILE))
                .id();
        database.run("alter table hive add column colour varchar(20)", "update hive set colour = 'red'");

        Vacancy later = Vacancy.over(database.source());
        if (engine == Engine.SQLITE) {
            assertThatThrownBy(() -> later.retirements().planDrop(id, folder, ODILE))
                    .hasMessageContaining("was changed since hive.wood went");
        } else {
            agreed(later, later.retirements().planDrop(id, folder, ODILE));
        }

        assertThat(database.rows("select hive_id, colour from hive")).containsExactly("1|red");
    }

    @OnEveryEngine
    void anotherOneOfItsNameKeepsNobodyFromDroppingIt(Engine engine) {
        Database database = with(
                engine,
                "create table hive (hive_id int primary key, wood varchar(20))",
                "insert into hive values (1, 'oak')");
        Vacancy vacancy = Vacancy.over(database.source());
        UUID id = agreed(vacancy, vacancy.plan(Retirement.ofTable("hive").keptFor(Period.ZERO), ODILE))
                .id();
        database.run(
                "create table hive (hive_id int primary key, made_of varchar(20))",
                "insert into hive values (7, 'ash')");

        Vacancy later = Vacancy.over(database.source());
        agreed(later, later.retirements().planDrop(id, folder, ODILE));

        assertThat(database.rows("select * from hive")).containsExactly("7|ash");
        assertThat(inTheWay(later.retirements().planReturn(id, ODILE))).containsExactly("setting hive");
        database.run("alter table hive rename to new_hive");
        bringBack(database, id);
        assertThat(database.rows("select * from hive")).containsExactly("1|oak");
    }
}
