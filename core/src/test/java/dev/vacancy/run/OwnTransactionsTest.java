package dev.vacancy.run;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import dev.vacancy.testing.Schemas;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

/** What is set on a connection for a run, and that it comes back the way it was. */
class OwnTransactionsTest {
    @OnEveryEngine
    void aConnectionComesBackTheWayItWas(Engine engine) throws Exception {
        Database database = Schemas.threeLevels(engine);
        try (Connection only = database.connect()) {
            List<String> before = settings(only, engine);
            Vacancy vacancy = Vacancy.over(Database.always(only));

            vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(1), By.user("odile"))));

            assertThat(settings(only, engine)).isEqualTo(before);
        }
    }

    @Test
    void sqliteEnforcesLinksDuringARunEvenWhereTheDataSourceDoesnt() throws Exception {
        try (Connection careless = Engine.SQLITE.database().connect();
                Statement statement = careless.createStatement()) {
            statement.execute("create table hive (hive_id integer primary key)");
            statement.execute("create table seen (enforced integer)");
            statement.execute("create trigger look after delete on hive begin insert into seen"
                    + " select foreign_keys from pragma_foreign_keys; end");
            statement.execute("insert into hive values (1)");
            statement.execute("pragma trusted_schema = on");
            statement.execute("pragma foreign_keys = off");
            Vacancy vacancy = Vacancy.over(Database.always(careless));

            vacancy.run(Approval.of(vacancy.plan(Selection.of("hive").key(1), By.user("odile"))));

            assertThat(first(statement, "select enforced from seen")).isEqualTo("1");
            assertThat(first(statement, "pragma foreign_keys")).isEqualTo("0");
        }
    }

    private static List<String> settings(Connection connection, Engine engine) throws SQLException {
        List<String> queries = switch (engine) {
            case H2 -> List.of();
            case POSTGRESQL -> List.of("show lock_timeout");
            case MARIADB ->
                List.of("select @@session.innodb_lock_wait_timeout", "select @@session.max_recursive_iterations");
            case SQLITE -> List.of("pragma foreign_keys", "pragma busy_timeout");
        };
        List<String> settings = new ArrayList<>();
        try (Statement statement = connection.createStatement()) {
            for (String query : queries) {
                settings.add(first(statement, query));
            }
        }
        settings.add(connection.getAutoCommit() + " " + connection.getTransactionIsolation() + " "
                + connection.isReadOnly());
        return settings;
    }

    private static String first(Statement statement, String query) throws SQLException {
        try (var row = statement.executeQuery(query)) {
            row.next();
            return row.getString(1);
        }
    }
}
