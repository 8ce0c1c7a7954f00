package dev.vacancy;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.Schemas;
import java.sql.Connection;
import java.sql.Statement;

/** A deletion inside a transaction that the application has open. */
class JoinedTransactionTest {
    private static final By ODILE = By.user("odile");

    @OnEveryEngine
    void whatTheCallerRollsBackWasNeverDeleted(Engine engine) throws Exception {
        Database database = Schemas.threeLevels(engine);
        Vacancy vacancy = Vacancy.over(database.source());

        try (Connection connection = database.connect()) {
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);
            joined.run(Approval.of(joined.plan(Selection.of("hive").key(1), ODILE)));
            assertThat(connection.isClosed()).isFalse();
            connection.rollback();
        }

        assertThat(database.count("hive")).isEqualTo(2);
        assertThat(database.count("frame_check")).isEqualTo(3);
    }

    @OnEveryEngine
    void whatTheCallerCommitsIsDeletedTogetherWithItsOwnWork(Engine engine) throws Exception {
        Database database = Schemas.threeLevels(engine);
        Vacancy vacancy = Vacancy.over(database.source());

        try (Connection connection = database.connect();
                Statement statement = connection.createStatement()) {
            connection.setAutoCommit(false);
            statement.executeUpdate("insert into inspection values (7, 'by the caller', 1)");
            Vacancy joined = vacancy.joining(connection);
            Plan plan = joined.plan(Selection.of("hive").key(1), ODILE);
            assertThat(plan.counts()).containsEntry("inspection", 3L);
            joined.run(Approval.of(plan));
            assertThat(database.count("hive")).isEqualTo(2);
            connection.commit();
        }

        assertThat(database.count("hive")).isEqualTo(1);
        assertThat(database.count("inspection")).isEqualTo(1);
    }

    @OnEveryEngine
    void aRunThatFailsLeavesTheCallersOwnWorkAndItsTransactionUsable(Engine engine) throws Exception {
        Database database = Schemas.threeLevels(engine);
        Vacancy vacancy = Vacancy.over(database.source());
        Approval stale = Approval.of(vacancy.plan(Selection.of("hive").key(1), ODILE));

        try (Connection connection = database.connect();
                Statement statement = connection.createStatement()) {
            connection.setAutoCommit(false);
            statement.executeUpdate("insert into inspection values (7, 'by the caller', 1)");
            Vacancy joined = vacancy.joining(connection);
            assertThatThrownBy(() -> joined.run(stale)).isInstanceOf(StalePlanException.class);
            statement.executeUpdate("update inspection set note = 'still here' where inspection_id = 7");
            connection.commit();
        }

        assertThat(database.rows("select note from inspection where inspection_id = 7"))
                .containsExactly("still here");
        assertThat(database.count("hive")).isEqualTo(2);
    }

    @OnEveryEngine
    void aConnectionThatCommitsEachStatementIsRefused(Engine engine) throws Exception {
        Database database = Schemas.threeLevels(engine);
        Vacancy vacancy = Vacancy.over(database.source());

        try (Connection connection = database.connect()) {
            assertThatThrownBy(() -> vacancy.joining(connection))
                    .isInstanceOf(InvalidRequestException.class)
                    .hasMessageContaining("setAutoCommit(false)");
        }
    }

    @OnEveryEngine
    void aConnectionOfTheDataSourceComesBackTheWayItWas(Engine engine) throws Exception {
        Database database = Schemas.threeLevels(engine);
        try (Connection only = database.connect()) {
            boolean autoCommit = only.getAutoCommit();
            int isolation = only.getTransactionIsolation();
            Vacancy vacancy = Vacancy.over(Database.always(only));

            vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(1), ODILE)));

            assertThat(only.getAutoCommit()).isEqualTo(autoCommit);
            assertThat(only.getTransactionIsolation()).isEqualTo(isolation);
            assertThat(only.isReadOnly()).isFalse();
        }
    }
}
