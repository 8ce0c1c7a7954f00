package dev.vacancy.gate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Locale;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** A connection that means another tenant's schema is no way to that tenant's records. */
class OtherSchemaTest {
    private static final By ODILE = By.user("odile");
    private static final Selection HIVE = Selection.of("hive").key(1);

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void anotherTenantsRecordNeverGoes(Engine engine) throws SQLException {
        Database database =
                engine.database().run("create table hive (hive_id integer primary key)", "insert into hive values (1)");
        String other = database.schema("tb");
        database.run(
                "create table " + other + ".hive (hive_id integer primary key)",
                "insert into " + other + ".hive values (1)");
        Vacancy vacancy = Vacancy.over(database.source());
        Plan plan = vacancy.plan(HIVE, ODILE);
        try (Connection connection = database.connect()) {
            if (engine == Engine.MARIADB) {
                connection.setCatalog(other);
            } else {
                connection.setSchema(engine == Engine.H2 ? other.toUpperCase(Locale.ROOT) : other);
            }
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);

            assertRefused(() -> joined.plan(HIVE, ODILE));
            assertRefused(() -> joined.run(Approval.of(plan)));
            assertRefused(() -> joined.delete(HIVE, ODILE));

            connection.commit();
            try (Statement statement = connection.createStatement()) {
                assertThat(statement
                                .executeQuery("select 1 from " + other + ".hive")
                                .next())
                        .isTrue();
            }
            connection.rollback();
        }
        assertThat(database.count("hive")).isEqualTo(1);
    }

    private static void assertRefused(ThrowingCallable attempt) {
        assertThatThrownBy(attempt)
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.OTHER_SCHEMA));
    }
}
