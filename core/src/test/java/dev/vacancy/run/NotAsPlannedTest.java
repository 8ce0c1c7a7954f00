package dev.vacancy.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Emptying;
import dev.vacancy.FailureCode;
import dev.vacancy.NotAsPlannedException;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.util.List;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The database does no more than the plan says, and no less; where it would, nothing is changed. */
class NotAsPlannedTest {
    private static final By ODILE = By.user("odile");
    private static final RuleBook BLOCKING =
            RuleBook.bySchema().on("inspection.hive_id", Clause.block("inspections are kept"));

    @Test
    void recordsThatRowLevelSecurityHidesAreNotTakenAlong() {
        Database database = hives(Engine.POSTGRESQL, "varchar(20)");
        database.run(
                "alter table inspection enable row level security",
                "create policy own on inspection using (inspection_id < 10)",
                "create role larkmoor_rls",
                "grant usage on schema public to larkmoor_rls",
                "grant all on all tables in schema public to larkmoor_rls",
                "insert into inspection values (11, 'B')");
        List<String> before = database.contents("hive", "inspection");
        DataSource limited = as(database.source(), "larkmoor_rls");
        Vacancy vacancy = Vacancy.over(limited, BLOCKING);
        Plan plan = vacancy.plan(Selection.of("hive").key("B"), ODILE);
        assertThat(plan.blockers()).isEmpty();

        assertThatThrownBy(() -> vacancy.run(Approval.of(plan)))
                .isInstanceOf(NotAsPlannedException.class)
                .hasMessageContaining("deleted 1 records of inspection where the plan has 0");

        assertThat(database.contents("hive", "inspection")).isEqualTo(before);
        assertThat(Vacancy.check(limited, BLOCKING))
                .extracting(Finding::kind, Finding::where)
                .contains(org.assertj.core.groups.Tuple.tuple(Finding.Kind.HIDDEN_RECORDS, "inspection"));
    }

    @Test
    void childrenThatOnlyACollationFindsAreFound() {
        Database postgres = Engine.POSTGRESQL.database();
        postgres.run("create collation folded (provider = icu, locale = 'und-u-ks-level2', deterministic = false)");
        assertBlocked(filled(postgres, "varchar(20) collate folded", "varchar(20) collate folded"));
        assertBlocked(filled(Engine.SQLITE.database(), "varchar(20) collate nocase", "varchar(20)"));
        assertBlocked(filled(Engine.SQLITE.database(), "varchar(20) collate nocase", "text collate binary"));
        assertBlocked(filled(Engine.MARIADB.database(), "varchar(20)", "varchar(20)"));
    }

    @Test
    void onSqliteAChildsOwnCollationFindsNoOtherParent() {
        Database database = Engine.SQLITE.database();
        database.run(
                "create table hive (hive_id text primary key)",
                "create table inspection (inspection_id int primary key, hive_id text collate nocase,"
                        + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                "insert into hive values ('a'), ('A')",
                "insert into inspection values (1, 'a'), (2, 'A')");
        Vacancy vacancy = Vacancy.over(database.source());

        Plan plan = vacancy.plan(Selection.of("hive").key("a"), ODILE);
        vacancy.run(Approval.of(plan));

        assertThat(plan.counts()).containsEntry("inspection", 1L);
        assertThat(database.contents("hive", "inspection")).containsExactly("hive: [A]", "inspection: [2|A]");
    }

    /** The child writes its parent's key in another case; the database takes them for the same, and cascades. */
    private static void assertBlocked(Database database) {
        Vacancy vacancy = Vacancy.over(database.source(), BLOCKING);

        Plan plan = vacancy.plan(Selection.of("hive").key("b"), ODILE);

        assertThat(plan.blockers()).singleElement().satisfies(blocker -> {
            assertThat(blocker.count()).isEqualTo(1);
            assertThat(blocker.children().get(0).way()).containsExactly("hive b");
        });
    }

    private static Database filled(Database database, String parentType, String childType) {
        return database.run(
                "create table hive (hive_id " + parentType + " primary key)",
                "create table inspection (inspection_id int primary key, hive_id " + childType
                        + ", foreign key (hive_id) references hive (hive_id) on delete cascade)",
                "insert into hive values ('a'), ('b')",
                "insert into inspection values (1, 'a'), (2, 'B')");
    }

    private static Database hives(Engine engine, String type) {
        return engine.database()
                .run(
                        "create table hive (hive_id " + type + " primary key)",
                        "create table inspection (inspection_id int primary key, hive_id " + type
                                + ", foreign key (hive_id) references hive (hive_id) on delete cascade)",
                        "insert into hive values ('A'), ('B')",
                        "insert into inspection values (1, 'A')");
    }

    @Test
    void aTriggerThatKeepsARecordIsNamedAsWhatItMayBe() {
        Database database = hives(Engine.POSTGRESQL, "varchar(20)");
        database.run(
                "create function keep() returns trigger language plpgsql as $$ begin return null; end $$",
                "create trigger keep before delete on hive for each row execute function keep()");
        Vacancy vacancy = Vacancy.over(database.source());
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key("B"), ODILE));

        assertThatThrownBy(() -> vacancy.run(approval))
                .hasMessageContaining("left 1 of them as they were")
                .hasMessageContaining("look for a trigger")
                .extracting(failure -> ((VacancyException) failure).code())
                .isEqualTo(FailureCode.NOT_AS_PLANNED);
    }

    @Test
    void aUserWhoMayOnlySelectAndDeleteCanRun() {
        Database database = hives(Engine.POSTGRESQL, "varchar(20)");
        database.run(
                "create role larkmoor_deleter",
                "grant usage on schema public to larkmoor_deleter",
                "grant select, delete on hive, inspection to larkmoor_deleter");
        Vacancy vacancy = Vacancy.over(as(database.source(), "larkmoor_deleter"));

        vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key("A"), ODILE)));

        assertThat(database.contents("hive", "inspection")).containsExactly("hive: [B]", "inspection: []");
    }

    @Test
    void whatAUserMayNotDoIsToldAtThePlan() {
        Database database = hives(Engine.POSTGRESQL, "varchar(20)");
        database.run(
                "create role larkmoor_reader",
                "grant usage on schema public to larkmoor_reader",
                "grant select on hive, inspection to larkmoor_reader",
                "grant delete on hive to larkmoor_reader");
        Vacancy vacancy = Vacancy.over(as(database.source(), "larkmoor_reader"));

        assertThat(vacancy.plan(Selection.of("hive").key("B"), ODILE).counts()).containsEntry("hive", 1L);
        assertThatThrownBy(() -> vacancy.plan(Selection.of("hive").key("A"), ODILE))
                .hasMessageContaining("may not delete from inspection")
                .extracting(failure -> ((VacancyException) failure).code())
                .isEqualTo(FailureCode.MISSING_RIGHT);
    }

    /** Connections of the same server that act as another role. */
    private static DataSource as(DataSource source, String role) {
        return (DataSource) Proxy.newProxyInstance(
                DataSource.class.getClassLoader(), new Class<?>[] {DataSource.class}, (proxy, method, arguments) -> {
                    Connection connection = source.getConnection();
                    connection.createStatement().execute("set role " + role);
                    return connection;
                });
    }

    @ParameterizedTest
    @ValueSource(strings = {"MyISAM", "Aria", "MEMORY"})
    void onMariaDbATableWithoutTransactionsIsNotReached(String storage) {
        Database database = Engine.MARIADB
                .database()
                .run(
                        "create table hive (hive_id int primary key)",
                        "create table photo (photo_id int primary key, hive_no int) engine = " + storage,
                        "insert into hive values (1), (2)",
                        "insert into photo values (1, 1)");
        RuleBook rules = RuleBook.bySchema().link("photo.hive_no", "hive").on("photo.hive_no", Clause.cascade());
        Vacancy vacancy = Vacancy.over(database.source(), rules);

        assertThatThrownBy(() -> vacancy.plan(Selection.of("hive").key(1), ODILE))
                .hasMessageContaining("photo can't be taken back")
                .extracting(failure -> ((VacancyException) failure).code())
                .isEqualTo(FailureCode.NOT_TRANSACTIONAL);
        assertThatThrownBy(() -> Vacancy.over(database.source()).plan(Emptying.of("photo"), ODILE))
                .hasMessageContaining("photo can't be taken back");
        assertThat(Vacancy.check(database.source(), rules))
                .extracting(Finding::kind)
                .contains(Finding.Kind.NOT_TRANSACTIONAL);
        vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(2), ODILE)));
        assertThat(database.rows("select hive_id from hive")).containsExactly("1");
    }
}
