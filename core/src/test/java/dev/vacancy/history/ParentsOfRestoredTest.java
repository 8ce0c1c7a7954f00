package dev.vacancy.history;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Limits;
import dev.vacancy.LockedException;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.UUID;

/** A child comes back to a parent on a link that only the rules know of, while somebody else is about to delete that. */
class ParentsOfRestoredTest {
    private static final By ODILE = By.user("odile");
    private static final RuleBook RULES = RuleBook.bySchema()
            .link("photo.hive_no", "hive")
            .on("photo.hive_no", Clause.cascade())
            .trail(Trail.defaults());

    private static Database photos(Engine engine) {
        Database database = engine.database()
                .run(
                        "create table hive (hive_id integer primary key, name varchar(20))",
                        "create table photo (photo_id integer primary key, hive_no integer)",
                        "insert into hive values (1, 'Fellside'), (2, 'Bramble')",
                        "insert into photo values (1, 1), (2, 2)");
        Ddl.of(database.source(), RULES).apply();
        return database;
    }

    private static UUID deletedPhoto(Database database) {
        return Vacancy.over(database.source(), RULES)
                .delete(Selection.of("photo").key(1), By.program("night"))
                .runId();
    }

    private static void beImpatient(Engine engine, Statement statement) throws SQLException {
        switch (engine) {
            case POSTGRESQL -> statement.execute("set lock_timeout = 200");
            case MARIADB -> statement.execute("set session innodb_lock_wait_timeout = 1");
            case H2, SQLITE -> {}
        }
    }

    @OnEveryEngine
    void theParentWaits(Engine engine) throws SQLException {
        Database database = photos(engine);
        UUID run = deletedPhoto(database);
        Vacancy vacancy = Vacancy.over(database.source(), RULES);
        try (Connection connection = database.connect();
                Connection other = database.connect();
                Statement statement = other.createStatement()) {
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);
            joined.history().restore(Approval.of(joined.history().planRestore(run, ODILE)));
            beImpatient(engine, statement);

            assertThatThrownBy(() -> statement.executeUpdate("delete from hive where hive_id = 1"))
                    .isInstanceOf(SQLException.class);
            if (engine != Engine.SQLITE) {
                assertThat(statement.executeUpdate("delete from hive where hive_id = 2"))
                        .isEqualTo(1);
            }
            connection.commit();
        }
        assertThat(database.count("photo")).isEqualTo(2);
        assertThat(database.rows("select name from hive where hive_id = 1")).containsExactly("Fellside");
    }

    @OnEveryEngine
    void whatSomebodyElseIsDeletingIsToldAsLocked(Engine engine) throws SQLException {
        Database database = photos(engine);
        UUID run = deletedPhoto(database);
        Vacancy vacancy = Vacancy.over(database.source(), RULES)
                .withLimits(Limits.defaults().lockWait(Duration.ofMillis(300)));
        Approval approval = Approval.of(vacancy.history().planRestore(run, ODILE));
        try (Connection other = database.connect();
                Statement statement = other.createStatement()) {
            other.setAutoCommit(false);
            statement.executeUpdate("delete from hive where hive_id = 1");

            assertThatThrownBy(() -> vacancy.history().restore(approval)).isInstanceOf(LockedException.class);
            other.rollback();
        }
        vacancy.history().restore(approval);
        assertThat(database.count("photo")).isEqualTo(2);
    }
}
