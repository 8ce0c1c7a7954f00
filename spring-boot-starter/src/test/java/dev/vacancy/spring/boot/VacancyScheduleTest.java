package dev.vacancy.spring.boot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import com.zaxxer.hikari.HikariDataSource;
import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.schedule.ScheduledDeletion;
import dev.vacancy.schedule.ScheduledRuns;
import dev.vacancy.schedule.Upcoming;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import java.time.Duration;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.springframework.boot.autoconfigure.AutoConfigurations;
import org.springframework.boot.test.context.runner.ApplicationContextRunner;

class VacancyScheduleTest {
    private static final Duration LONG = Duration.ofSeconds(60);

    private static ApplicationContextRunner over(DataSource source, String... properties) {
        return new ApplicationContextRunner()
                .withConfiguration(
                        AutoConfigurations.of(VacancyAutoConfiguration.class, VacancyScheduleAutoConfiguration.class))
                .withBean(DataSource.class, () -> source)
                .withPropertyValues("vacancy.schema=create", "vacancy.check=off")
                .withPropertyValues(properties);
    }

    private static Database visits(Engine engine) {
        return engine.database()
                .run(
                        "create table visit (visit_id integer primary key, left_on date)",
                        "insert into visit values (1, '2020-01-01'), (2, '2020-01-01'), (3, '2999-01-01')");
    }

    private static String[] nightly(String every, String atMost) {
        return new String[] {
            "spring.application.name=harbour",
            "vacancy.scheduled[old visits].table=visit",
            "vacancy.scheduled[old visits].where=left_on < today - 2 years",
            "vacancy.scheduled[old visits].every=" + every,
            "vacancy.scheduled[old visits].zone=Europe/Dublin",
            "vacancy.scheduled[old visits].at-most=" + atMost,
            "vacancy.scheduled[old visits].reason=two years over"
        };
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void whatIsScheduledIsMadeAtTheFirstStartAndChangedAtALaterOne(Engine engine) {
        Database database = visits(engine);
        over(database.source(), nightly("0 0 2 * * *", "100"))
                .run(context -> assertThat(list(context.getBean(ScheduledRuns.class)))
                        .extracting(
                                ScheduledDeletion::name,
                                deletion -> deletion.atMost().getAsLong())
                        .containsExactly(org.assertj.core.groups.Tuple.tuple("old visits", 100L)));
        over(database.source(), nightly("0 0 2 * * *", "100"))
                .run(context -> assertThat(context).hasNotFailed());
        over(database.source(), nightly("0 0 3 * * MON-FRI", "500")).run(context -> {
            ScheduledDeletion deletion =
                    list(context.getBean(ScheduledRuns.class)).get(0);

            assertThat(deletion.atMost()).hasValue(500);
            assertThat(deletion.timing().every()).contains("0 0 3 * * MON-FRI");
            assertThat(deletion.timing().zone()).isEqualTo(ZoneId.of("Europe/Dublin"));
            assertThat(deletion.by()).isEqualTo(By.program("harbour").because("two years over"));
            assertThat(context.getBean(ScheduledRuns.class).list()).hasSize(1);
        });
        assertThat(database.count("visit")).isEqualTo(3);

        database.run("update vacancy_scheduled set picked = true, picked_by = 'another process'");
        over(database.source(), nightly("0 0 4 * * *", "900")).run(context -> {
            assertThat(context).hasNotFailed();
            assertThat(list(context.getBean(ScheduledRuns.class)).get(0).atMost())
                    .hasValue(500);
        });
    }

    private static List<ScheduledDeletion> list(ScheduledRuns runs) {
        return runs.list().stream().map(Upcoming::deletion).toList();
    }

    /** In pools whose connections don't commit by themselves, too. */
    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void aWorkerGoesOnWithBulkRunsAsLongAsTheApplicationRuns(Engine engine) {
        Database database = visits(engine);
        try (HikariDataSource pool = new HikariDataSource()) {
            pool.setDataSource(database.source());
            pool.setAutoCommit(false);
            over(pool, nightly("P1D", "100"))
                    .withPropertyValues("vacancy.worker=true")
                    .withBean(
                            Exemption.class,
                            () -> Exemption.named(
                                    "kept by hand",
                                    (record, connection) -> record.key().text().equals("2")
                                            ? Optional.of("somebody wants it")
                                            : Optional.empty()))
                    .run(context -> {
                        Vacancy vacancy = context.getBean(Vacancy.class);
                        BulkRun run = vacancy.bulk()
                                .start(
                                        Selection.of("visit").keys(List.of(1, 2)),
                                        By.program("clean-up"),
                                        BulkOptions.defaults().exempting(context.getBean(Exemption.class)));

                        await().atMost(LONG)
                                .until(() -> vacancy.bulk().run(run.runId()).state() == BulkState.DONE);
                        assertThat(context.getBean(ScheduledRuns.class).list()).hasSize(1);
                    });
        }
        assertThat(database.rows("select visit_id from visit order by 1")).containsExactly("2", "3");
    }

    @Test
    void whereNothingIsScheduledAndNobodyWorksNoTableIsNeeded() {
        Database database = visits(Engine.H2);

        over(database.source()).run(context -> assertThat(context).doesNotHaveBean(ScheduledRuns.class));
        over(database.source(), nightly("P1D", "100"))
                .withPropertyValues("vacancy.schema=validate")
                .run(context -> assertThat(context)
                        .getFailure()
                        .rootCause()
                        .hasMessageContaining("The table that holds scheduled deletions is missing"));
    }

    @Test
    void whatSaysTooLittleEndsTheStart() {
        Database database = visits(Engine.H2);

        over(database.source(), "vacancy.scheduled.visits.table=visit", "vacancy.scheduled.visits.every=P1D")
                .run(context -> assertThat(context)
                        .getFailure()
                        .rootCause()
                        .hasMessageContaining(
                                "vacancy.scheduled.visits doesn't say of which table it deletes which records"));
        over(
                        database.source(),
                        "vacancy.scheduled.visits.table=visit",
                        "vacancy.scheduled.visits.where=gone_on < today",
                        "vacancy.scheduled.visits.every=P1D")
                .run(context -> assertThat(context).getFailure().rootCause().hasMessageContaining("gone_on"));
        over(
                        database.source(),
                        "vacancy.scheduled.visits.table=visit",
                        "vacancy.scheduled.visits.all-records=true",
                        "vacancy.scheduled.visits.every=nightly")
                .run(context -> assertThat(context).getFailure().rootCause().hasMessageContaining("'nightly'"));
    }
}
