package dev.vacancy;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import dev.vacancy.history.HistoryQuery;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.ConsentRule;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.SoftDelete;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.sql.Statement;
import java.time.Duration;
import java.time.Period;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** A program that has decided deletes without looking at a plan first; and what it says wrongly is refused. */
class DirectDeletionTest {
    private static final By NIGHTLY = By.program("nightly");
    private static final RuleBook BOOK = RuleBook.bySchema()
            .on("queen.hive_id", Clause.detach())
            .on("treatment.hive_id", Clause.block("its withholding period runs"))
            .marker("reading", Marker.timestamp("gone_at"))
            .trail(Trail.defaults());

    private static Database larkmoor(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key, name varchar(40))",
                        "create table reading (reading_id integer primary key, hive_id integer not null,"
                                + " foreign key (hive_id) references hive (hive_id) on delete cascade)",
                        "create table queen (queen_id integer primary key, hive_id integer,"
                                + " foreign key (hive_id) references hive (hive_id))",
                        "create table treatment (treatment_id integer primary key, hive_id integer,"
                                + " foreign key (hive_id) references hive (hive_id))",
                        "create table apiary_keeper (apiary_id integer, keeper_id integer, primary key (apiary_id, keeper_id))",
                        "insert into hive values (1, 'Fen One'), (2, 'Fen Two'), (3, 'Fen Three')",
                        "insert into reading values (10, 1), (11, 1), (12, 2)",
                        "insert into queen values (20, 1), (21, 2)",
                        "insert into treatment values (30, 3)",
                        "insert into apiary_keeper values (3, 7), (3, 8)");
        Ddl.of(database.source(), BOOK).apply();
        return database;
    }

    @OnEveryEngine
    void allOfItGoesAndIsWrittenDownInOneGo(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);

        Outcome outcome = vacancy.delete(
                Selection.of("hive").key(1),
                NIGHTLY.because("colony lost"),
                Reporting.none().keysOf("reading", "queen"));

        assertThat(outcome.counts()).containsEntry("hive", 1L).containsEntry("reading", 2L);
        assertThat(outcome.keys().get("reading")).extracting(Object::toString).containsExactlyInAnyOrder("10", "11");
        assertThat(outcome.keys().get("queen")).isEmpty();
        assertThat(outcome.changedKeys().get("queen"))
                .extracting(Object::toString)
                .containsExactly("20");
        assertThat(database.rows("select queen_id, hive_id from queen order by 1"))
                .containsExactly("20|null", "21|2");
        assertThat(vacancy.history().runs(HistoryQuery.all()))
                .singleElement()
                .satisfies(run -> assertThat(run.runId()).isEqualTo(outcome.runId()));
        assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(3), NIGHTLY))
                .isInstanceOf(BlockedException.class)
                .hasMessageContaining("treatment 30");
        assertThat(database.count("hive")).isEqualTo(2);
    }

    @OnEveryEngine
    void theKeysOfMarkedRecordsAreToldToo(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK.soft("reading"));

        Outcome outcome = vacancy.delete(
                Selection.of("reading").where(Criteria.parse("reading_id < 12")),
                NIGHTLY,
                Reporting.none().keysOf("reading"));

        assertThat(outcome.marked()).containsExactly("reading");
        assertThat(outcome.keys().get("reading")).extracting(Object::toString).containsExactlyInAnyOrder("10", "11");
        assertThat(database.count("reading")).isEqualTo(3);
    }

    @OnEveryEngine
    void fewerStatementsAreSentThanForAPlanAndItsRun(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.counting(), RuleBook.bySchema());
        database.statements();
        vacancy.run(Approval.of(vacancy.plan(Selection.of("reading").key(10), NIGHTLY)));
        int both = database.statements();
        vacancy.delete(Selection.of("reading").key(11), NIGHTLY);
        int direct = database.statements();

        assertThat(direct).isLessThan(both);
    }

    @OnEveryEngine
    void childrenThatNothingHangsOnAreCountedByTheStatementThatDeletesThem(Engine engine) {
        Database database = larkmoor(engine);
        RuleBook detaching = RuleBook.bySchema().on("queen.hive_id", Clause.detach());

        Outcome outcome = Vacancy.over(database.source(), detaching)
                .delete(
                        Selection.of("hive").keys(List.of(1, 2)),
                        NIGHTLY,
                        Reporting.none().keysOf("reading"));

        assertThat(outcome.counts()).containsExactly(Map.entry("hive", 2L), Map.entry("reading", 3L));
        assertThat(outcome.changed()).containsExactly(Map.entry("queen.hive_id", 2L));
        assertThat(Vacancy.over(database.source(), detaching)
                        .delete(Selection.of("hive").key(1), NIGHTLY)
                        .counts())
                .as("what isn't there takes nothing along")
                .isEmpty();
    }

    @OnEveryEngine
    void whereTheRulesAskSomebodyTheChildrenAreCountedFirst(Engine engine) {
        Database database = larkmoor(engine);
        RuleBook asking = RuleBook.bySchema()
                .on("queen.hive_id", Clause.detach())
                .consent("reading", ConsentRule.atLeast(Consent.NONE).numberBeyond(1));
        Vacancy vacancy = Vacancy.over(database.source(), asking);

        assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(1), NIGHTLY))
                .isInstanceOf(InvalidRequestException.class);
        assertThat(database.count("reading")).isEqualTo(3);
        assertThat(vacancy.delete(Selection.of("hive").key(2), NIGHTLY).total()).isEqualTo(2);
    }

    @Test
    void whatATriggerAddsToTheChildrenMeanwhileIsNotTakenAlongUntold() {
        Database database = Engine.POSTGRESQL
                .database()
                .run(
                        "create table hive (hive_id integer primary key)",
                        "create table reading (reading_id integer primary key, hive_id integer not null"
                                + " references hive on delete cascade)",
                        "create table visit (visit_id integer primary key, hive_id integer not null"
                                + " references hive on delete cascade)",
                        "insert into hive values (1)",
                        "insert into reading values (10, 1)",
                        "insert into visit values (20, 1)",
                        "create function visit_gone() returns trigger language plpgsql as"
                                + " $$ begin insert into reading values (99, old.hive_id); return old; end $$",
                        "create trigger visit_gone after delete on visit for each row execute function visit_gone()");

        assertThatThrownBy(() -> Vacancy.over(database.source())
                        .delete(Selection.of("hive").key(1), NIGHTLY))
                .isInstanceOf(NotAsPlannedException.class)
                .hasMessageContaining("reading");
        assertThat(database.count("reading")).isEqualTo(1);
        assertThat(database.count("hive")).isEqualTo(1);
    }

    /** The database's own cascade would leave the child behind as well, without a word. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "create trigger keep before delete on reading for each row execute function keep()",
                "create trigger keep before delete on reading_late for each row execute function keep()",
                "create rule keep as on delete to reading do instead nothing"
            })
    void aChildThatATriggerOrARuleKeepsIsFound(String keeping) {
        Database database = Engine.POSTGRESQL
                .database()
                .run(
                        "create table hive (hive_id integer primary key)",
                        "create table reading (reading_id integer, hive_id integer not null references hive on delete cascade,"
                                + " primary key (reading_id)) partition by range (reading_id)",
                        "create table reading_early partition of reading for values from (0) to (100)",
                        "create table reading_late partition of reading for values from (100) to (200)",
                        "create function keep() returns trigger language plpgsql as $$ begin return null; end $$",
                        "insert into hive values (1), (2)",
                        "insert into reading values (10, 1), (110, 1), (11, 2)",
                        keeping);
        Vacancy vacancy = Vacancy.over(database.source());

        assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(1), NIGHTLY))
                .isInstanceOf(NotAsPlannedException.class);
        assertThat(database.count("reading")).isEqualTo(3);
        assertThat(database.count("hive")).isEqualTo(2);
    }

    @Test
    void onSqliteAChildThatATriggerKeepsIsFoundToo() {
        Database database = Engine.SQLITE
                .database()
                .run(
                        "create table hive (hive_id integer primary key)",
                        "create table reading (reading_id integer primary key,"
                                + " hive_id integer not null references hive on delete cascade)",
                        "insert into hive values (1)",
                        "insert into reading values (10, 1)",
                        "create trigger keep before delete on reading begin select raise(ignore); end");

        assertThatThrownBy(() -> Vacancy.over(database.source())
                        .delete(Selection.of("hive").key(1), NIGHTLY))
                .isInstanceOf(NotAsPlannedException.class);
        assertThat(database.count("hive")).isEqualTo(1);
    }

    @OnEveryEngine
    void theHistoryNamesWhatWentAndNotWhatWasLeftOut(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);

        Outcome outcome =
                vacancy.delete(Selection.of("hive").keys(List.of(1, 3)).skippingBlocked(), NIGHTLY);

        assertThat(outcome.skipped()).hasSize(1);
        assertThat(vacancy.history().runs(HistoryQuery.all()))
                .singleElement()
                .satisfies(run -> assertThat(run.which()).isEqualTo("hive 1"));
    }

    @OnEveryEngine
    void aCompositeKeyIsAListOfValuesEitherWay(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);

        vacancy.delete(Selection.of("apiary_keeper").key(List.of(3, 7)), NIGHTLY);

        assertThat(database.rows("select keeper_id from apiary_keeper")).containsExactly("8");
    }

    @OnEveryEngine
    void asManyRunsAreToldAsWereAskedForOfThoseThatMayBe(Engine engine) {
        Database database = larkmoor(engine);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);
        vacancy.delete(Selection.of("reading").key(10), NIGHTLY);
        vacancy.delete(Selection.of("reading").key(11), NIGHTLY);
        vacancy.delete(Selection.of("queen").key(20), NIGHTLY);
        vacancy.delete(Selection.of("queen").key(21), NIGHTLY);
        Vacancy una = vacancy.actingFor(By.user("una"), (by, act, table) -> table.equals("reading"));

        assertThat(una.history().runs(HistoryQuery.all().atMost(2))).hasSize(2);
        assertThat(una.history().entries(HistoryQuery.all().atMost(2))).hasSize(2);
    }

    @Test
    void onH2ALockIsWaitedForAsLongAsTheLimitsSay() throws Exception {
        Database database = larkmoor(Engine.H2);
        Vacancy patient = Vacancy.over(database.source(), BOOK)
                .withLimits(Limits.defaults().lockWait(Duration.ofSeconds(20)));
        ExecutorService threads = Executors.newSingleThreadExecutor();
        try (Connection holder = database.connect();
                Statement statement = holder.createStatement()) {
            holder.setAutoCommit(false);
            statement.executeUpdate("update hive set name = 'held' where hive_id = 2");
            Future<Outcome> waiting =
                    threads.submit(() -> patient.delete(Selection.of("hive").key(2), NIGHTLY));
            await().until(() -> !database.rows("select 1 from information_schema.sessions where blocker_id is not null")
                    .isEmpty());
            // The database's own limit is 200 ms here.
            await().during(Duration.ofMillis(600)).atMost(Duration.ofSeconds(5)).until(() -> !waiting.isDone());
            holder.commit();

            assertThat(waiting.get(10, TimeUnit.SECONDS).total()).isPositive();
        } finally {
            threads.shutdownNow();
        }
    }

    @Test
    void aPersonAndAProgramOfOneNameAreTwo() {
        assertThat(By.user("nightly")).isNotEqualTo(NIGHTLY);
        assertThat(NIGHTLY.because("old").isProgram()).isTrue();
        assertThat(By.user("nightly").isSameAs(NIGHTLY))
                .as("nobody agrees to their own wish")
                .isTrue();
    }

    @Test
    void whatMakesNoSenseIsRefusedWithItsValue() {
        Database database = larkmoor(Engine.H2);
        Vacancy vacancy = Vacancy.over(database.source(), BOOK);

        assertThatThrownBy(() -> SoftDelete.defaults().keptFor(Period.ofDays(-3)))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("P-3D");
        assertThatThrownBy(() -> NIGHTLY.because("  "))
                .isInstanceOf(InvalidRequestException.class)
                .hasMessageContaining("'  '");
        assertThatThrownBy(() -> HistoryQuery.all().atMost(0)).hasMessageContaining("At most 0");
        assertThatThrownBy(() -> vacancy.history().deleted("reading", 0)).hasMessageContaining("At most 0");
        assertThatThrownBy(() -> vacancy.list(Selection.of("hive").allRecords(), NIGHTLY, 0))
                .hasMessageContaining("At most 0");
    }
}
