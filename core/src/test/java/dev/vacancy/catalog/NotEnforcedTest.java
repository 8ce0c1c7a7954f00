package dev.vacancy.catalog;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.RulesException;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.Schemas;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.UUID;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Foreign keys of PostgreSQL that stand in the schema, and that the database doesn't check. */
class NotEnforcedTest {
    private static final By ODILE = By.user("odile");

    private static Database unenforced(String how) {
        return Schemas.threeLevels(Engine.POSTGRESQL).run(how);
    }

    /** Nobody's own check makes the other session wait, so the table is locked. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "alter table inspection alter constraint inspection_hive_id_fkey not enforced",
                "alter table inspection disable trigger all"
            })
    void noChildComesInWhileItsParentGoes(String how) throws SQLException {
        Database database = unenforced(how);
        Vacancy vacancy = Vacancy.over(database.source());
        try (Connection connection = database.connect();
                Connection other = database.connect()) {
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);
            Outcome outcome =
                    joined.run(Approval.of(joined.plan(Selection.of("hive").key(1), ODILE)));
            Database.rows(other, "select set_config('lock_timeout', '200ms', false)");

            assertThatThrownBy(
                            () -> other.createStatement().executeUpdate("insert into inspection values (9, 'late', 1)"))
                    .isInstanceOf(SQLException.class)
                    .hasMessageContaining("lock timeout");
            connection.commit();

            assertThat(outcome.counts())
                    .containsEntry("hive", 1L)
                    .containsEntry("inspection", 2L)
                    .containsEntry("frame_check", 2L);
        }
        assertThat(database.rows("select inspection_id from inspection")).containsExactly("3");
    }

    /** Nor does a parent go while a child comes back to it. */
    @ParameterizedTest
    @ValueSource(
            strings = {
                "alter table inspection alter constraint inspection_hive_id_fkey not enforced",
                "alter table inspection disable trigger all",
                "alter table inspection drop constraint inspection_hive_id_fkey"
            })
    void noParentGoesWhileItsChildComesBack(String how) throws SQLException {
        Database database = unenforced(how);
        RuleBook rules = RuleBook.bySchema().trail(Trail.defaults());
        RuleBook linked = how.contains("drop")
                ? rules.link("inspection.hive_id", "hive").on("inspection.hive_id", Clause.cascade())
                : rules;
        Ddl.of(database.source(), linked).apply();
        Vacancy vacancy = Vacancy.over(database.source(), linked);
        UUID run = vacancy.delete(Selection.of("inspection").key(1), By.program("night"))
                .runId();
        try (Connection connection = database.connect();
                Connection other = database.connect()) {
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);
            joined.history().restore(Approval.of(joined.history().planRestore(run, ODILE)));
            Database.rows(other, "select set_config('lock_timeout', '200ms', false)");

            assertThatThrownBy(() -> other.createStatement().executeUpdate("delete from hive where hive_id = 1"))
                    .isInstanceOf(SQLException.class)
                    .hasMessageContaining("lock timeout");
            connection.commit();
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "alter table inspection alter constraint inspection_hive_id_fkey not enforced",
                "alter table hive disable trigger all"
            })
    void aTransactionThatLooksAtAnOldStateIsRefused(String how) throws SQLException {
        Database database = unenforced(how);
        Vacancy vacancy = Vacancy.over(database.source());
        try (Connection connection = database.connect()) {
            connection.setTransactionIsolation(Connection.TRANSACTION_REPEATABLE_READ);
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);

            assertThatThrownBy(() -> joined.delete(Selection.of("hive").key(1), By.program("night")))
                    .extracting(failure -> ((VacancyException) failure).code())
                    .isEqualTo(FailureCode.ISOLATION);
            connection.rollback();
        }
    }

    @Test
    void childrenCanBeKeptWhereNothingIsBrokenByIt() {
        Database database = Schemas.threeLevels(Engine.POSTGRESQL);
        RuleBook keeping = RuleBook.bySchema().on("inspection.hive_id", Clause.keep());
        assertThatThrownBy(() -> Vacancy.over(database.source(), keeping))
                .isInstanceOf(RulesException.class)
                .hasMessageContaining("the database enforces this link");

        database.run("alter table inspection alter constraint inspection_hive_id_fkey not enforced");
        Vacancy vacancy = Vacancy.over(database.source(), keeping);
        Plan plan = vacancy.plan(Selection.of("hive").key(1), ODILE);

        assertThat(vacancy.run(Approval.of(plan)).counts()).containsOnlyKeys("hive");
        assertThat(database.count("inspection")).isEqualTo(3);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "alter table inspection alter constraint inspection_hive_id_fkey not enforced",
                "alter table inspection disable trigger all"
            })
    void theCheckTellsOfThem(String how) {
        Database database = unenforced(how);

        assertThat(Vacancy.check(database.source(), RuleBook.bySchema()))
                .filteredOn(finding -> finding.kind() == Finding.Kind.NOT_ENFORCED)
                .extracting(Finding::where)
                .contains("inspection.hive_id")
                .doesNotContain("hive.apiary_id");
    }
}
