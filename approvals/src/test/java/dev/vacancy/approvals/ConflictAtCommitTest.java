package dev.vacancy.approvals;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.Outcome;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.UUID;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** The database ends a transaction of ours at its commit, for the sake of another one: that is no lock of anybody's. */
class ConflictAtCommitTest {
    private static final By ODILE = By.user("odile");
    private static final RuleBook KEPT = RuleBook.bySchema().trail(Trail.defaults());

    /** The first so many commits that delete a hive end in a conflict; a sequence counts on, whatever is rolled back. */
    private static Database conflicting(int times) {
        Database database = Engine.POSTGRESQL
                .database()
                .run(
                        "create table hive (hive_id integer primary key, name varchar(40))",
                        "insert into hive select n, 'Hive ' || n from generate_series(1, 9) n",
                        "create sequence tries",
                        "create function conflict() returns trigger language plpgsql as $$ begin if nextval('tries') <= "
                                + times
                                + " then raise exception 'could not be put in order' using errcode = '40001'; end if;"
                                + " return null; end $$",
                        "create constraint trigger conflicts after delete on hive deferrable initially deferred for each"
                                + " row execute function conflict()");
        Ddl.of(database.source(), KEPT).apply();
        return database;
    }

    @Test
    void whereNothingButOursIsInItItIsTriedAgain() {
        Database database = conflicting(3);
        Vacancy vacancy = Vacancy.over(database.source(), KEPT);
        ApprovalKeys keys = ApprovalKeys.signingWith("one", new byte[32]);
        Ddl.of(database.source(), Ddl.Part.APPROVALS).apply();
        Selection second = Selection.of("hive").key(2);
        String token = Approvals.of(vacancy, keys).issue(vacancy.plan(second, ODILE));

        Outcome outcome = vacancy.delete(Selection.of("hive").key(1), ODILE);
        Receipt receipt = Approvals.of(vacancy, keys).redeem(token, second, ODILE, "yes");

        assertThat(outcome.total()).isEqualTo(1);
        assertThat(receipt.repeated()).isFalse();
        assertThat(database.rows("select hive_id from hive where hive_id < 4")).containsExactly("3");
        assertThat(database.rows("select count(*) from vacancy_trail_run where place > 0"))
                .containsExactly("2");
    }

    @Test
    void aBulkRunNeitherStopsNorFailsByIt() {
        Database database = conflicting(2);
        Vacancy vacancy = Vacancy.over(database.source(), KEPT);
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        BulkOptions strict = BulkOptions.defaults().chunk(2).stoppingAtFailure();
        UUID run = vacancy.bulk()
                .start(Selection.of("hive").where(Criteria.parse("hive_id < 6")), ODILE, strict)
                .runId();

        BulkRun end = vacancy.bulk().work(run, strict, Exemption.none(), soFar -> {});

        assertThat(end.state()).isEqualTo(BulkState.DONE);
        assertThat(end.failed()).isZero();
        assertThat(end.done()).isEqualTo(5);
    }

    @Test
    void whatNeverEndsWellIsToTryAgainLater() {
        Database database = conflicting(1_000);
        Vacancy vacancy = Vacancy.over(database.source(), KEPT);

        assertThatThrownBy(() -> vacancy.delete(Selection.of("hive").key(1), ODILE))
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        conflict -> assertThat(conflict.code()).isEqualTo(FailureCode.TRY_AGAIN));
        assertThat(database.count("hive")).isEqualTo(9);
    }

    @ParameterizedTest
    @EnumSource(names = {"POSTGRESQL", "MARIADB"})
    void aJoinedTransactionForReadingOnlyIsToldAsThat(Engine engine) throws SQLException {
        Database database =
                engine.database().run("create table hive (hive_id integer primary key)", "insert into hive values (1)");
        Vacancy vacancy = Vacancy.over(database.source());
        try (Connection connection = database.connect()) {
            connection.setReadOnly(true);
            connection.setAutoCommit(false);
            Vacancy joined = vacancy.joining(connection);

            assertThatThrownBy(() -> joined.delete(Selection.of("hive").key(1), ODILE))
                    .isInstanceOfSatisfying(
                            VacancyException.class,
                            refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.READ_ONLY));
            connection.rollback();
        }
        assertThat(database.count("hive")).isEqualTo(1);
    }
}
