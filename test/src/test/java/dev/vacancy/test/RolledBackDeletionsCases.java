package dev.vacancy.test;

import static dev.vacancy.test.VacancyAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.RepeatedTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;

/** A test as an application's developers write it; whatever it deletes is there again for the next one. */
abstract class RolledBackDeletionsCases {
    private static final By UNA = By.user("una");
    private static final RuleBook RULES = RuleBook.bySchema().trail(Trail.defaults());

    private static Database database;

    @RegisterExtension
    static final RolledBackDeletions DELETIONS = RolledBackDeletions.over(() -> database.source(), RULES);

    static void start(Engine engine) {
        database = engine.database()
                .run(
                        "create table pier (pier_id integer primary key)",
                        "create table berth (berth_id integer primary key, pier_id integer not null,"
                                + " foreign key (pier_id) references pier (pier_id) on delete cascade)",
                        "insert into pier values (1), (2)",
                        "insert into berth values (10, 1), (11, 1), (20, 2)");
    }

    @AfterAll
    static void allIsAsItWas() {
        assertThat(database.rows("select berth_id from berth order by 1")).containsExactly("10", "11", "20");
        // Only the row with which a trail begins.
        assertThat(database.count("vacancy_trail_run")).isEqualTo(1);
    }

    @BeforeEach
    void addsABerth(Connection connection) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.execute("insert into berth values (21, 2)");
        }
    }

    @RepeatedTest(2)
    void aPierTakesItsBerthsAlong(Vacancy vacancy) {
        assertThat(vacancy.plan(Selection.of("pier").key(2), UNA)).isPossible().deletes("berth", 2);

        assertThat(vacancy.delete(Selection.of("pier").key(2), UNA))
                .deletes("pier", 1)
                .deletes("berth", 2);

        assertThat(vacancy.history().runs(HistoryQuery.all())).hasSize(1);
    }

    @Test
    void whatCannotBeRolledBackIsRefused(Vacancy vacancy) {
        assertThatThrownBy(vacancy::bulk).isInstanceOf(InvalidRequestException.class);
    }
}
