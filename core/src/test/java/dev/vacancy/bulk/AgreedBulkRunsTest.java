package dev.vacancy.bulk;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.VacancyException;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.Marker;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import dev.vacancy.testing.OnEveryEngine;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.junit.jupiter.api.Test;

/** A bulk run is worked on as it was agreed to, by whatever process. */
class AgreedBulkRunsTest {
    private static final By ODILE = By.user("odile");
    private static final Selection SOME = Selection.of("hive").where(Criteria.parse("hive_id < 7"));
    private static final RuleBook PLAIN = RuleBook.bySchema().marker("hive", Marker.timestamp("gone_at"));
    private static final RuleBook SOFT = PLAIN.soft("hive");

    private static Database hives(Engine engine) {
        Database database = engine.database().run("create table hive (hive_id integer primary key, name varchar(40))");
        for (int id = 1; id <= 9; id++) {
            database.run("insert into hive values (" + id + ", 'Hive " + id + "')");
        }
        Ddl.of(database.source(), SOFT.trail(Trail.defaults())).apply();
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        return database;
    }

    private static BulkRun work(Vacancy vacancy, UUID run, BulkListener listener) {
        return vacancy.bulk().work(run, BulkOptions.defaults().chunk(2), Exemption.none(), listener);
    }

    @OnEveryEngine
    void whatWasToBeMarkedIsNotDeletedByAWorkerWithThinnerRules(Engine engine) {
        Database database = hives(engine);
        Vacancy soft = Vacancy.over(database.source(), SOFT.trail(Trail.defaults()));
        UUID run = soft.bulk()
                .start(Approval.inChunks(soft.plan(SOME, ODILE)), BulkOptions.defaults())
                .runId();

        for (RuleBook thinner : List.of(
                PLAIN.trail(Trail.defaults()), SOFT, SOFT.trail(Trail.defaults().without("hive.name")))) {
            assertThatThrownBy(() -> work(Vacancy.over(database.source(), thinner), run, soFar -> {}))
                    .isInstanceOfSatisfying(
                            VacancyException.class,
                            refusal -> assertThat(refusal.code()).isEqualTo(FailureCode.RULES));
        }

        assertThat(database.count("hive")).isEqualTo(9);
        assertThat(work(soft, run, soFar -> {}).done()).isEqualTo(6);
        assertThat(database.rows("select count(*) from hive where gone_at is not null"))
                .containsExactly("6");
    }

    @OnEveryEngine
    void otherRecordsThanAgreedToAreRefusedThoughAsMany(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = Vacancy.over(database.source(), PLAIN);
        Selection named = Selection.of("hive").where(Criteria.parse("name = 'Hive 1'"));
        Approval approval = Approval.inChunks(vacancy.plan(named, ODILE));
        database.run(
                "update hive set name = 'x' where hive_id = 1", "update hive set name = 'Hive 1' where hive_id = 2");

        assertThatThrownBy(() -> vacancy.bulk().start(approval, BulkOptions.defaults()))
                .isInstanceOf(StalePlanException.class)
                .hasMessageContaining("other records of hive");
    }

    @OnEveryEngine
    void whatTheApplicationKeepsIsKeptByWhoeverWorks(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = Vacancy.over(database.source(), PLAIN);
        Exemption loan = Exemption.named("on loan", (hive, connection) -> {
            try (PreparedStatement query = connection.prepareStatement("select 1 from hive where hive_id = 9")) {
                boolean there = query.executeQuery().next();
                return there && hive.key().text().equals("3") ? Optional.of("it is on loan") : Optional.empty();
            } catch (SQLException failure) {
                throw new IllegalStateException(failure);
            }
        });
        UUID run = vacancy.bulk()
                .start(SOME, ODILE, BulkOptions.defaults().exempting(loan))
                .runId();

        assertThatThrownBy(() -> work(vacancy, run, soFar -> {}))
                .hasMessageContaining("was started with the exemption 'on loan', and this worker has no exemption");
        assertThat(database.count("hive")).isEqualTo(9);
        BulkRun end = vacancy.bulk().work(run, BulkOptions.defaults(), loan, soFar -> {});

        assertThat(vacancy.bulk().exemption(run)).isEqualTo("on loan");
        assertThat(end.skipped()).isEqualTo(1);
        assertThat(database.rows("select hive_id from hive order by hive_id")).containsExactly("3", "7", "8", "9");
    }

    @OnEveryEngine
    void aWorkerThatIsInterruptedEndsAfterItsChunk(Engine engine) {
        Database database = hives(engine);
        Vacancy vacancy = Vacancy.over(database.source(), PLAIN);
        UUID run = vacancy.bulk().start(SOME, ODILE, BulkOptions.defaults()).runId();

        BulkRun then = work(vacancy, run, soFar -> Thread.currentThread().interrupt());

        assertThat(Thread.interrupted()).isTrue();
        assertThat(then.state()).isEqualTo(BulkState.RUNNING);
        assertThat(then.done()).isEqualTo(2);
        assertThat(database.count("hive")).isEqualTo(7);
        assertThat(work(vacancy, run, soFar -> {}).done()).isEqualTo(6);
    }

    /** A trigger that is put off refuses at the commit; what it refuses was never deleted. */
    @Test
    void nobodyIsToldOfADeletionThatWasRolledBack() {
        Database database = hives(Engine.POSTGRESQL);
        database.run(
                "create function keep() returns trigger language plpgsql as $$ begin if old.hive_id = 2 then raise exception"
                        + " 'kept'; end if; return null; end $$",
                "create constraint trigger keeping after delete on hive deferrable initially deferred for each row execute"
                        + " function keep()");
        Vacancy vacancy = Vacancy.over(database.source(), PLAIN);
        UUID run = vacancy.bulk().start(SOME, ODILE, BulkOptions.defaults()).runId();
        List<String> told = new ArrayList<>();

        BulkRun end = work(vacancy, run, new BulkListener() {
            @Override
            public void progressed(BulkRun now) {
                // Only what is deleted matters here.
            }

            @Override
            public void deleted(List<RecordContent> records) {
                records.forEach(record -> told.add(record.key().text()));
            }
        });

        assertThat(end.done()).isEqualTo(5);
        assertThat(end.failed()).isEqualTo(1);
        assertThat(told).containsExactlyInAnyOrder("1", "3", "4", "5", "6");
        assertThat(database.rows("select hive_id from hive order by hive_id")).containsExactly("2", "7", "8", "9");
    }
}
