package dev.vacancy.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.LockedException;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.Schemas;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.stream.IntStream;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Whose transaction is it? What Vacancy didn't begin it doesn't end. */
class TransactionsTest {
    private static final By ODILE = By.user("odile");

    @OnEveryEngine
    void aTransactionOfSomebodyElsesIsNeitherCommittedNorUsed(Engine engine) throws SQLException {
        Database database = Schemas.threeLevels(engine);
        try (Connection only = database.connect()) {
            Vacancy vacancy = Vacancy.over(Database.always(only));
            only.setAutoCommit(false);
            List<String> before = Database.contents(only, "frame_check");
            only.createStatement().executeUpdate("delete from frame_check");

            assertThatThrownBy(() -> vacancy.plan(Selection.of("hive").key(1), ODILE))
                    .isInstanceOf(InvalidRequestException.class)
                    .hasMessageContaining("vacancy.joining(connection)")
                    .extracting(failure -> ((VacancyException) failure).code())
                    .isEqualTo(FailureCode.FOREIGN_TRANSACTION);

            only.rollback();
            assertThat(Database.contents(only, "frame_check")).isEqualTo(before);
            only.rollback();
        }
    }

    @OnEveryEngine
    void aLargeSetOfKeysCommitsNothing(Engine engine) throws SQLException {
        Database database = engine.database();
        database.run("create table hive (hive_id int primary key, name varchar(20))");
        database.run(
                "create table frame (frame_id int primary key, hive_id int references hive (hive_id) on delete cascade)");
        int many = 2_500;
        database.run(
                "insert into hive values " + rows(many, "(%1$d, 'hive')"),
                "insert into frame values " + rows(many, "(%1$d, %1$d)"));
        List<String> before = database.contents("hive", "frame");
        Vacancy vacancy = Vacancy.over(database.source());
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);
            Plan plan = joined.plan(
                    Selection.of("hive")
                            .keys(IntStream.rangeClosed(1, many).boxed().toList()),
                    ODILE);
            joined.run(Approval.of(plan));
            assertThat(Database.rows(connection, "select count(*) from frame")).containsExactly("0");

            connection.rollback();
        }
        assertThat(database.contents("hive", "frame")).isEqualTo(before);
    }

    private static String rows(int count, String row) {
        return String.join(
                ", ",
                IntStream.rangeClosed(1, count).mapToObj(i -> row.formatted(i)).toList());
    }

    @Test
    void onH2ATransactionAboveReadCommittedIsNotJoinedByARun() throws SQLException {
        Database database = Schemas.threeLevels(Engine.H2);
        Vacancy vacancy = Vacancy.over(database.source());
        assertIsolationRefused(database, vacancy, Connection.TRANSACTION_REPEATABLE_READ);
    }

    @Test
    void onPostgresOneAboveReadCommittedIsNotJoinedWhereALinkIsUndeclared() throws SQLException {
        Database database = Schemas.threeLevels(Engine.POSTGRESQL);
        database.run("create table photo (photo_id int primary key, hive_no int)");
        RuleBook rules = RuleBook.bySchema().link("photo.hive_no", "hive").on("photo.hive_no", Clause.cascade());

        assertIsolationRefused(database, Vacancy.over(database.source(), rules), Connection.TRANSACTION_SERIALIZABLE);

        Vacancy declared = Vacancy.over(database.source());
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            connection.setTransactionIsolation(Connection.TRANSACTION_REPEATABLE_READ);
            Vacancy joined = declared.joining(connection);
            assertThat(joined.run(Approval.of(joined.plan(Selection.of("hive").key(1), ODILE)))
                            .counts())
                    .containsEntry("hive", 1L);
            connection.rollback();
        }
    }

    private static void assertIsolationRefused(Database database, Vacancy vacancy, int isolation) throws SQLException {
        try (Connection connection = database.connect()) {
            connection.setTransactionIsolation(isolation);
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);
            Approval approval = Approval.of(joined.plan(Selection.of("hive").key(1), ODILE));

            assertThatThrownBy(() -> joined.run(approval))
                    .hasMessageContaining("READ COMMITTED")
                    .extracting(failure -> ((VacancyException) failure).code())
                    .isEqualTo(FailureCode.ISOLATION);
            connection.rollback();
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"77s", "250ms", "1min", "36h", "0"})
    void onPostgresSettingsEndWithTheRunInsideAJoinedTransaction(String wait) throws SQLException {
        Database database = Schemas.threeLevels(Engine.POSTGRESQL);
        Vacancy vacancy = Vacancy.over(database.source());
        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            Database.rows(connection, "select set_config('lock_timeout', '" + wait + "', true)");
            Vacancy joined = vacancy.joining(connection);

            joined.run(Approval.of(joined.plan(Selection.of("hive").key(1), ODILE)));

            assertThat(Database.rows(connection, "show lock_timeout")).containsExactly(wait);
            connection.rollback();
        }
    }

    /** How long to wait for a lock is asked for and set, and put back afterwards. */
    @OnEveryEngine
    void aJoinedTransactionTakesNoMoreThanThreeStatementsMore(Engine engine) throws SQLException {
        Database database = Schemas.threeLevels(engine);
        DataSource counting = database.counting();
        Vacancy vacancy = Vacancy.over(counting);
        Selection hive = Selection.of("hive").key(1);
        database.statements();
        vacancy.plan(hive, ODILE);
        int alone = database.statements();
        try (Connection connection = counting.getConnection()) {
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);
            database.statements();
            joined.plan(hive, ODILE);

            assertThat(database.statements()).isLessThanOrEqualTo(alone + 3);
            connection.rollback();
        }
    }

    @Test
    void whatRefusesAtTheCommitIsToldAsThat() {
        Database database = Schemas.threeLevels(Engine.POSTGRESQL);
        database.run(
                "create function refuse() returns trigger language plpgsql as"
                        + " $$ begin raise exception 'the season is not over'; end $$",
                "create constraint trigger refuse after delete on hive deferrable initially deferred"
                        + " for each row execute function refuse()");
        List<String> before = database.contents("hive", "inspection");
        Vacancy vacancy = Vacancy.over(database.source());
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key(1), ODILE));

        assertThatThrownBy(() -> vacancy.run(approval))
                .hasMessageContaining("failed to commit")
                .hasMessageContaining("the season is not over")
                .extracting(failure -> ((VacancyException) failure).code())
                .isEqualTo(FailureCode.COMMIT_REFUSED);
        assertThat(database.contents("hive", "inspection")).isEqualTo(before);
    }

    @Test
    void whatCouldNotBePutInOrderWithAnotherTransactionIsToTryAgain() throws SQLException {
        Database database = Schemas.threeLevels(Engine.POSTGRESQL);
        Vacancy vacancy = Vacancy.over(database.source());
        try (Connection connection = database.connect()) {
            connection.setTransactionIsolation(Connection.TRANSACTION_SERIALIZABLE);
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);
            Approval approval = Approval.of(joined.plan(Selection.of("hive").key(1), ODILE));
            database.run("update hive set name = 'Moved' where hive_id = 1");

            assertThatThrownBy(() -> joined.run(approval)).isInstanceOfSatisfying(LockedException.class, failure -> {
                assertThat(failure.code()).isEqualTo(FailureCode.TRY_AGAIN);
                assertThat(failure.sqlState()).contains("40001");
                assertThat(failure).hasMessageContaining("try again");
            });
            connection.rollback();
        }
    }

    @OnEveryEngine
    void whatTheCallersOwnTransactionHoldsIsntCalledSomebodyElses(Engine engine) throws SQLException {
        Database database = Schemas.threeLevels(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key(1), ODILE));
        try (Connection own = database.connect()) {
            own.setAutoCommit(false);
            own.createStatement().executeUpdate("update hive set name = 'Moved' where hive_id = 1");

            assertThatThrownBy(() -> vacancy.run(approval))
                    .isInstanceOf(LockedException.class)
                    .hasMessageContaining("join it if it is the application's own")
                    .hasMessageNotContaining("omebody else");
            own.rollback();
        }
    }

    @ParameterizedTest
    @EnumSource(
            value = Engine.class,
            names = {"POSTGRESQL", "MARIADB"})
    void aConnectionForReadingOnlyIsNotMadeToWrite(Engine engine) throws SQLException {
        Database database = Schemas.threeLevels(engine);
        try (Connection only = database.connect()) {
            only.setReadOnly(true);
            Vacancy vacancy = Vacancy.over(Database.always(only));
            Approval approval = Approval.of(vacancy.plan(Selection.of("hive").key(1), ODILE));

            assertThatThrownBy(() -> vacancy.run(approval))
                    .extracting(failure -> ((VacancyException) failure).code())
                    .isEqualTo(FailureCode.READ_ONLY);
            assertThat(only.isReadOnly()).isTrue();
            assertThat(database.rows("select count(*) from hive where hive_id = 1"))
                    .containsExactly("1");
        }
    }

    @OnEveryEngine
    void nobodyAsksForNothing(Engine engine) {
        Vacancy vacancy = Vacancy.over(Schemas.threeLevels(engine).source());

        assertThatThrownBy(() -> vacancy.plan(Selection.of("hive").key(1), null))
                .isInstanceOf(InvalidRequestException.class)
                .extracting(failure -> ((VacancyException) failure).code())
                .isEqualTo(FailureCode.NO_ACTOR);
    }
}
