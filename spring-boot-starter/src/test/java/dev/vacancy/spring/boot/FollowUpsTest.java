package dev.vacancy.spring.boot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.followup.FollowUpState;
import dev.vacancy.followup.FollowUps;
import dev.vacancy.rule.FollowUp;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Trail;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import io.micrometer.core.instrument.MeterRegistry;
import io.micrometer.core.instrument.simple.SimpleMeterRegistry;
import io.micrometer.observation.Observation;
import io.micrometer.observation.ObservationHandler;
import io.micrometer.observation.ObservationRegistry;
import java.io.IOException;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import javax.sql.DataSource;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.springframework.boot.autoconfigure.AutoConfigurations;
import org.springframework.boot.health.contributor.HealthIndicator;
import org.springframework.boot.test.context.runner.ApplicationContextRunner;

/** Beans handle what follows runs. */
class FollowUpsTest {
    private final List<FollowUpMessage> handled = new CopyOnWriteArrayList<>();

    private ApplicationContextRunner over(Database database, FollowUpHandler handler, String... properties) {
        return new ApplicationContextRunner()
                .withConfiguration(AutoConfigurations.of(
                        VacancyAutoConfiguration.class,
                        VacancyFollowUpAutoConfiguration.class,
                        VacancyHealthAutoConfiguration.class))
                .withBean(DataSource.class, database::source)
                .withBean(
                        RuleBook.class,
                        () -> RuleBook.bySchema()
                                .trail(Trail.defaults())
                                .followUp("pier", FollowUp.named("chart").columns("pier_id")))
                .withBean("chart", FollowUpHandler.class, () -> handler)
                .withPropertyValues("vacancy.schema=create", "vacancy.check=off")
                .withPropertyValues(properties);
    }

    private static Database piers(Engine engine) {
        return engine.database()
                .run("create table pier (pier_id integer primary key)", "insert into pier values (1), (2)");
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void aWorkerHandsThemOver(Engine engine) {
        over(piers(engine), handled::add, "vacancy.worker=true").run(context -> {
            context.getBean(Vacancy.class).delete(Selection.of("pier").key(1), By.user("una"));

            await().atMost(Duration.ofSeconds(60)).until(() -> !handled.isEmpty());
            assertThat(handled.get(0).values()).containsEntry("pier_id", 1);
        });
    }

    @ParameterizedTest
    @EnumSource(names = "H2")
    void withoutAWorkerNobodyDoesAndTheHealthTellsWhatFailed(Engine engine) {
        FollowUpHandler failing = message -> {
            throw new IllegalStateException("no chart");
        };
        Database database = piers(engine);
        over(database, failing).run(context -> {
            assertThat(context).doesNotHaveBean(FollowUpLifecycle.class);
            FollowUps followUps = context.getBean(Vacancy.class).followUps();
            context.getBean(Vacancy.class).delete(Selection.of("pier").key(1), By.user("una"));
            followUps.work();
            HealthIndicator health = context.getBean("vacancyHealthIndicator", HealthIndicator.class);
            assertThat(health.health().getDetails()).containsEntry("followUpsFailed", 0L);
            database.run("update vacancy_follow_up set state = 'failed'");
            assertThat(health.health().getDetails()).containsEntry("followUpsFailed", 1L);
            assertThat(followUps.count(FollowUpState.FAILED)).isEqualTo(1);
        });
    }

    @ParameterizedTest
    @EnumSource(names = "H2")
    void eachMessageIsObservedAndWhatFailedIsMeasured(Engine engine) {
        Database database = piers(engine);
        List<String> observed = new CopyOnWriteArrayList<>();
        ObservationRegistry observations = ObservationRegistry.create();
        observations.observationConfig().observationHandler(new ObservationHandler<>() {
            @Override
            public void onStop(Observation.Context context) {
                observed.add(context.getName() + " "
                        + context.getLowCardinalityKeyValue("table").getValue() + " " + context.getError());
            }

            @Override
            public boolean supportsContext(Observation.Context context) {
                return true;
            }
        });
        FollowUpHandler onlyTheFirst = message -> {
            if (message.key().equals(Optional.of("2"))) {
                throw new IOException("no chart");
            }
        };
        over(database, onlyTheFirst)
                .withConfiguration(AutoConfigurations.of(
                        VacancyMetricsAutoConfiguration.class, VacancyObservationAutoConfiguration.class))
                .withBean(MeterRegistry.class, SimpleMeterRegistry::new)
                .withBean(ObservationRegistry.class, () -> observations)
                .run(context -> {
                    Vacancy vacancy = context.getBean(Vacancy.class);
                    vacancy.delete(Selection.of("pier").keys(List.of(1, 2)), By.user("una"));
                    assertThat(vacancy.followUps().work()).isEqualTo(1);
                    assertThat(observed)
                            .filteredOn(name -> name.startsWith("vacancy.follow.up pier"))
                            .hasSize(2)
                            .anyMatch(name -> name.endsWith("no chart"));
                    assertThat(vacancy.followUps().list(1).get(0).failure()).contains("no chart");

                    database.run("update vacancy_follow_up set state = 'failed'");
                    assertThat(context.getBean(MeterRegistry.class)
                                    .get("vacancy.follow.ups.failed")
                                    .gauge()
                                    .value())
                            .isEqualTo(1);
                });
    }

    @ParameterizedTest
    @EnumSource(names = "H2")
    void aBeanOfNoFollowUpIsRefused(Engine engine) {
        over(piers(engine), handled::add)
                .withBean("map", FollowUpHandler.class, () -> handled::add)
                .run(context -> assertThat(context)
                        .getFailure()
                        .rootCause()
                        .hasMessageContaining("No follow-up is called 'map': the rules name chart."));
    }
}
