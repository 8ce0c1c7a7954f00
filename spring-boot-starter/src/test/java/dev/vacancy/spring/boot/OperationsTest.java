package dev.vacancy.spring.boot;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.rule.Clause;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import io.micrometer.observation.Observation;
import io.micrometer.observation.ObservationHandler;
import io.micrometer.observation.ObservationRegistry;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.springframework.boot.autoconfigure.AutoConfigurations;
import org.springframework.boot.test.context.runner.ApplicationContextRunner;

/** What whoever operates an application sees. */
class OperationsTest {
    private final Database database = Engine.H2
            .database()
            .run(
                    "create table pier (pier_id integer primary key)",
                    "create table berth (berth_id integer primary key, pier_id integer not null,"
                            + " foreign key (pier_id) references pier (pier_id))",
                    "insert into pier values (1), (2)",
                    "insert into berth values (10, 1)");

    private final ApplicationContextRunner application = new ApplicationContextRunner()
            .withConfiguration(AutoConfigurations.of(
                    VacancyAutoConfiguration.class,
                    VacancyEndpointAutoConfiguration.class,
                    VacancyObservationAutoConfiguration.class))
            .withBean(DataSource.class, database::source)
            .withBean(RuleBook.class, () -> RuleBook.bySchema().on("berth.pier_id", Clause.cascade()));

    @Test
    void theEndpointTellsRulesAndRuns() {
        Ddl.of(database.source(), Ddl.Part.BULK_RUNS).apply();
        application
                .withPropertyValues(
                        "management.endpoints.web.exposure.include=vacancy",
                        "management.endpoints.jmx.exposure.include=vacancy")
                .run(context -> {
                    context.getBean(Vacancy.class)
                            .bulk()
                            .start(Selection.of("pier").key(2), By.program("clean-up"), BulkOptions.defaults());
                    Map<String, Object> state =
                            context.getBean(VacancyEndpoint.class).state();

                    assertThat(state).containsOnlyKeys("rules", "derived", "runs");
                    assertThat(state.get("rules").toString()).contains("link=berth.pier_id", "rule=cascade");
                    assertThat(state.get("runs").toString()).contains("table=pier");
                });
    }

    @Test
    void withoutTablesForBulkRunsThereIsNoRun() {
        application
                .withPropertyValues("management.endpoints.web.exposure.include=*")
                .run(context -> assertThat(
                                context.getBean(VacancyEndpoint.class).state().get("runs"))
                        .isEqualTo(List.of()));
    }

    @Test
    void theEndpointIsThereOnlyWhereItIsExposed() {
        application.run(context -> assertThat(context).doesNotHaveBean(VacancyEndpoint.class));
    }

    @Test
    void eachPlanAndDeletionIsAnObservation() {
        ObservationRegistry registry = ObservationRegistry.create();
        List<String> seen = new ArrayList<>();
        registry.observationConfig().observationHandler(new ObservationHandler<>() {
            @Override
            public void onStop(Observation.Context context) {
                seen.add(context.getName() + " "
                        + context.getLowCardinalityKeyValue("table").getValue());
            }

            @Override
            public boolean supportsContext(Observation.Context context) {
                return true;
            }
        });
        application.withBean(ObservationRegistry.class, () -> registry).run(context -> {
            Vacancy vacancy = context.getBean(Vacancy.class);
            vacancy.plan(Selection.of("pier").key(1), By.user("una"));
            vacancy.delete(Selection.of("pier").key(1), By.program("clean-up"));
        });

        assertThat(seen).containsExactly("vacancy.plan pier", "vacancy.delete pier");
        assertThat(database.count("berth")).isZero();
    }
}
