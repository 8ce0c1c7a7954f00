package dev.vacancy.spring.boot;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.springframework.boot.health.contributor.HealthIndicator;
import org.springframework.boot.health.contributor.Status;
import org.springframework.context.ConfigurableApplicationContext;

/** What a running application says of its database. */
class HealthTest {
    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL"})
    void isUpAsLongAsTheDatabaseHasWhatTheRulesNeed(Engine engine) {
        Database database = engine.database();
        try (ConfigurableApplicationContext context = ApplicationTest.start(database)) {
            HealthIndicator health = context.getBean("vacancyHealthIndicator", HealthIndicator.class);

            assertThat(health.health().getStatus()).isEqualTo(Status.UP);
            database.run("create table lamp (lamp_id integer primary key, pier_id integer references pier (pier_id))");
            assertThat(health.health().getStatus()).isEqualTo(Status.DOWN);
            assertThat(health.health().getDetails()).containsEntry("remedy", "Restart the application.");
            database.run("drop table lamp");
            assertThat(health.health().getStatus()).isEqualTo(Status.UP);
            database.run("drop table vacancy_trail_entry");
            assertThat(health.health().getStatus()).isEqualTo(Status.DOWN);
            assertThat(health.health().getDetails()).containsKey("missing");
        }
    }
}
