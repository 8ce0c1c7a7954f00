package dev.vacancy.tables;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** All tables of ours are made, and those of an earlier version brought up to date, in one way. */
class OwnTablesTest {
    private static final By ODILE = By.user("odile");
    private static final RuleBook BOOK = RuleBook.bySchema().trail(Trail.defaults());
    private static final List<String> ALL = List.of(
            "vacancy_trail_run",
            "vacancy_trail_entry",
            "vacancy_bulk_run",
            "vacancy_bulk_record",
            "vacancy_redeemed",
            "vacancy_scheduled");

    /** As they were made before the time of the last work was kept, and keys were cut. */
    private static final String[] EARLIER = {
        "create table vacancy_bulk_run (run_id varchar(36) not null primary key, name varchar(400) not null,"
                + " selected_table varchar(300) not null, selection varchar(2000) not null, actor varchar(200) not null,"
                + " reason varchar(1000), handed_over varchar(2000) not null, rules varchar(64) not null,"
                + " state varchar(12) not null, records bigint not null, done bigint not null, skipped bigint not null,"
                + " failed bigint not null, deleted bigint not null, started_at varchar(40) not null,"
                + " ended_at varchar(40))",
        "create table vacancy_bulk_record (run_id varchar(36) not null, place bigint not null,"
                + " record_key varchar(2000) not null, state varchar(8) not null, attempts int not null,"
                + " reason varchar(1000), primary key (run_id, place))",
        "create index vacancy_bulk_record_open on vacancy_bulk_record (run_id, state, place)"
    };

    @OnEveryEngine
    void whateverIsAskedForIsMadeOnce(Engine engine) {
        Database database = engine.database().run("create table hive (hive_id integer primary key)");

        assertThat(Ddl.of(database.source(), BOOK).apply()).isPositive();
        assertThat(there(database)).containsExactlyElementsOf(ALL.subList(0, 2));
        assertThat(Ddl.of(database.source(), BOOK, Ddl.Part.values()).apply()).isPositive();
        assertThat(there(database)).containsExactlyElementsOf(ALL);

        assertThat(Ddl.of(database.source(), BOOK, Ddl.Part.values()).isNeeded())
                .isFalse();
        assertThat(Ddl.of(database.source(), Ddl.Part.values()).apply()).isZero();
        assertThat(Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply()).isZero();
    }

    private static List<String> there(Database database) {
        return ALL.stream().filter(name -> isThere(database, name)).toList();
    }

    private static boolean isThere(Database database, String name) {
        try {
            database.count(name);
            return true;
        } catch (IllegalStateException missing) {
            return false;
        }
    }

    @OnEveryEngine
    void tablesOfAnEarlierVersionGetWhatHasComeSince(Engine engine) {
        Database database = engine.database()
                .run("create table hive (hive_id integer primary key)")
                .run(EARLIER)
                .run(
                        "insert into vacancy_bulk_run values ('3c9d1f00-0000-8000-8000-000000000001', 'old', 'hive', 'all', 'una',"
                                + " null, '{}', 'x', 'done', 3, 3, 0, 0, 3, '2026-01-02T03:04:05Z', '2026-01-02T03:04:06Z')");
        Vacancy vacancy = Vacancy.over(database.source(), RuleBook.bySchema());
        assertThatThrownBy(() -> vacancy.bulk()
                        .start(
                                Approval.inChunks(
                                        vacancy.plan(Selection.of("hive").key(1), ODILE)),
                                BulkOptions.defaults()))
                .hasMessageContaining("missing, or of an earlier version");

        List<String> statements = Ddl.of(database.source(), RuleBook.bySchema()).statements();
        assertThat(statements)
                .hasSize(engine == Engine.SQLITE ? 2 : 4)
                .allSatisfy(statement -> assertThat(statement).startsWith("alter table vacancy_bulk_"));
        Ddl.of(database.source(), RuleBook.bySchema()).apply();

        assertThat(Ddl.of(database.source(), RuleBook.bySchema(), Ddl.Part.BULK_RUNS)
                        .isNeeded())
                .isFalse();
        assertThat(vacancy.bulk().list())
                .singleElement()
                .satisfies(run -> assertThat(run.name()).isEqualTo("old"));
    }

    /** Where metadata takes a name for a pattern, an underscore in it is any character. */
    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"H2", "POSTGRESQL"})
    void tablesInASchemaOfANameThatLooksAlikeAreOthers(Engine engine) {
        Database database = engine.database()
                .run("create table hive (hive_id integer primary key)", "create schema axb", "create schema a_b");
        Ddl.of(database.source(), RuleBook.bySchema().trail(Trail.defaults().inSchema("axb")))
                .apply();
        RuleBook book = RuleBook.bySchema().trail(Trail.defaults().inSchema("a_b"));

        assertThat(Ddl.of(database.source(), book).statements()).isNotEmpty();
        Ddl.of(database.source(), book).apply();

        assertThat(Ddl.of(database.source(), book).isNeeded()).isFalse();
        assertThat(database.rows("select count(*) from a_b.vacancy_trail_run")).containsExactly("1");
    }

    /** MariaDB and SQLite have keys of that length too, but MariaDB no index on them. */
    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"H2", "POSTGRESQL", "SQLITE"})
    void keysOfAnyLengthStandWholeInABulkRun(Engine engine) {
        String beginning = "x".repeat(2_400);
        Database database = engine.database()
                .run(EARLIER)
                .run(
                        "create table comb (code varchar(2600) primary key)",
                        "insert into comb values ('" + beginning + "1'), ('" + beginning + "2')");
        Vacancy vacancy = Vacancy.over(database.source(), RuleBook.bySchema());
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();

        BulkRun run = vacancy.bulk()
                .start(
                        Approval.inChunks(vacancy.plan(Selection.of("comb").key(beginning + "2"), ODILE)),
                        BulkOptions.defaults());
        vacancy.bulk().work(run.runId(), BulkOptions.defaults(), Exemption.none(), each -> {});

        assertThat(database.rows("select code from comb")).containsExactly(beginning + "1");
    }
}
