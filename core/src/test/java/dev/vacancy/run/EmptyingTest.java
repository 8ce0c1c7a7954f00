package dev.vacancy.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Emptying;
import dev.vacancy.EmptyingPlan;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Limits;
import dev.vacancy.LockedException;
import dev.vacancy.Outcome;
import dev.vacancy.Question;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.OnEveryEngineButSqlite;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import org.junit.jupiter.api.Test;

class EmptyingTest {
    private static final By ODILE = By.user("odile").because("the season is over");

    private static Database hiveWithReadings(Engine engine) {
        Database database = engine.database();
        database.run(
                "create table hive (hive_id integer primary key)",
                "create table reading (reading_id integer primary key, hive_id integer, weight integer,"
                        + " foreign key (hive_id) references hive (hive_id))",
                "insert into hive values (1)",
                "insert into reading values (1, 1, 40), (2, 1, 41), (3, 1, 42)");
        return database;
    }

    @OnEveryEngine
    void emptyingATableTakesAllOfItAndNothingElse(Engine engine) {
        Database database = hiveWithReadings(engine);
        Vacancy vacancy = Vacancy.over(database.source());

        EmptyingPlan plan = vacancy.plan(Emptying.of("reading"), ODILE);
        Question question = Question.about(plan);
        Outcome outcome = vacancy.run(question.answer("3").orElseThrow());

        assertThat(question.text()).isEqualTo("Empty reading of all 3 records?");
        assertThat(question.answer("yes")).isEmpty();
        assertThat(outcome.counts()).containsOnlyKeys("reading").containsEntry("reading", 3L);
        assertThat(database.count("reading")).isZero();
        assertThat(database.count("hive")).isEqualTo(1);
    }

    @OnEveryEngine
    void aRecordThatWasAddedSinceIsNotTakenAlong(Engine engine) {
        Database database = hiveWithReadings(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        EmptyingPlan plan = vacancy.plan(Emptying.of("reading"), ODILE);

        database.run("insert into reading values (4, 1, 43)");

        assertThatThrownBy(() -> vacancy.run(Approval.of(plan)))
                .isInstanceOf(StalePlanException.class)
                .hasMessageContaining("1 more of reading");
        assertThat(database.count("reading")).isEqualTo(4);
    }

    @OnEveryEngine
    void aTableThatOthersPointAtIsRefused(Engine engine) {
        Vacancy vacancy = Vacancy.over(hiveWithReadings(engine).source());

        assertThatThrownBy(() -> vacancy.plan(Emptying.of("hive"), ODILE))
                .isInstanceOfSatisfying(
                        InvalidRequestException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.HAS_CHILDREN))
                .hasMessageContaining("reading.hive_id")
                .hasMessageContaining("--all-records");
    }

    @OnEveryEngineButSqlite
    void whoHoldsARecordIsNotPassedOver(Engine engine) throws SQLException {
        Database database = hiveWithReadings(engine);
        Vacancy vacancy =
                Vacancy.over(database.source()).withLimits(Limits.defaults().lockWait(Duration.ofMillis(200)));
        EmptyingPlan plan = vacancy.plan(Emptying.of("reading"), ODILE);

        try (Connection colleague = database.connect();
                Statement edit = colleague.createStatement()) {
            colleague.setAutoCommit(false);
            edit.executeUpdate("update reading set weight = 50 where reading_id = 2");

            assertThatThrownBy(() -> vacancy.run(Approval.of(plan))).isInstanceOf(LockedException.class);
            colleague.rollback();
        }

        assertThat(database.count("reading")).isEqualTo(3);
    }

    @OnEveryEngine
    void insideATransactionItCanBeTakenBack(Engine engine) throws SQLException {
        Database database = hiveWithReadings(engine);
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            Vacancy joined = Vacancy.over(database.source()).joining(connection);

            joined.run(Approval.of(joined.plan(Emptying.of("reading"), ODILE)));
            connection.rollback();
        }

        assertThat(database.count("reading")).isEqualTo(3);
    }

    @Test
    void triggersAreOnlyPassedOverIfThatIsAskedFor() {
        Database database = hiveWithReadings(Engine.POSTGRESQL);
        database.run(
                "create table told (reading_id integer)",
                "create function tell() returns trigger language plpgsql as"
                        + " 'begin insert into told values (old.reading_id); return old; end'",
                "create trigger tell_reading before delete on reading for each row execute function tell()");
        Vacancy vacancy = Vacancy.over(database.source());

        EmptyingPlan telling = vacancy.plan(Emptying.of("reading"), ODILE);
        EmptyingPlan silent = vacancy.plan(Emptying.of("reading").passingOverAllTriggers(), ODILE);
        vacancy.run(Approval.of(telling));

        assertThat(telling.way()).isEqualTo(EmptyingPlan.Way.DELETE);
        assertThat(silent.way()).isEqualTo(EmptyingPlan.Way.TRUNCATE);
        assertThat(silent.passedOver()).containsExactly("tell_reading");
        assertThat(Question.about(silent).text())
                .isEqualTo("Empty reading of all 3 records, without a word to tell_reading?");
        assertThat(database.count("told")).isEqualTo(3);
    }

    @Test
    void recordsThatAPolicyHidesAreNotDroppedUnseen() throws SQLException {
        Database database = hiveWithReadings(Engine.POSTGRESQL);
        database.run(
                "alter table reading enable row level security",
                "create policy own on reading using (weight > 40)",
                "create role keeper_of_two login",
                "grant select, delete, truncate, update on reading to keeper_of_two",
                "grant select on hive to keeper_of_two");
        try (Connection connection = database.connect();
                Statement statement = connection.createStatement()) {
            connection.setAutoCommit(false);
            statement.execute("set local role keeper_of_two");
            Vacancy vacancy = Vacancy.over(database.source()).joining(connection);

            EmptyingPlan plan = vacancy.plan(Emptying.of("reading"), ODILE);
            vacancy.run(Approval.of(plan));
            connection.commit();

            assertThat(plan.records()).isEqualTo(2);
            assertThat(plan.way()).isEqualTo(EmptyingPlan.Way.DELETE);
        }
        assertThat(database.count("reading")).isEqualTo(1);
    }
}
