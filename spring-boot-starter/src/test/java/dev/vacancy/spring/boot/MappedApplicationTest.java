package dev.vacancy.spring.boot;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.Vacancy;
import dev.vacancy.hibernate.EntityMapping;
import dev.vacancy.testing.Engine;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import org.springframework.context.ConfigurableApplicationContext;

/** What the starter makes of an object mapper's mapping and sessions. */
class MappedApplicationTest {
    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void whatTheMappingSaysNeedsNoRule(Engine engine) {
        try (ConfigurableApplicationContext context = ApplicationTest.start(engine.database(), "vacancy.rules=")) {
            MarinaApplication.Piers piers = context.getBean(MarinaApplication.Piers.class);
            piers.open(1, 3);

            assertThat(context.getBean(EntityMapping.class)
                            .derived(context.getBean(Vacancy.class).catalog()))
                    .hasToString("[berth.pier_id: cascade, by pier.berths (cascade REMOVE)]");
            assertThat(piers.close(1, true).total()).isEqualTo(4);
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void sessionsAreInStep(Engine engine) {
        try (ConfigurableApplicationContext context = ApplicationTest.start(engine.database())) {
            MarinaApplication.Piers piers = context.getBean(MarinaApplication.Piers.class);
            piers.open(1, 2);

            assertThat(piers.exchange(1, 19, 11)).containsExactlyInAnyOrder(12, 19);
            assertThat(piers.berths()).isEqualTo(2);
        }
    }

    @ParameterizedTest
    @EnumSource(names = {"H2", "POSTGRESQL", "MARIADB"})
    void repositoriesDeleteByTheirIds(Engine engine) {
        try (ConfigurableApplicationContext context = ApplicationTest.start(engine.database())) {
            context.getBean(MarinaApplication.Piers.class).open(1, 3);
            Register register = context.getBean(Register.class);

            assertThat(register.strikeOff(12)).containsExactly(12);
            assertThat(register.berthsThatGoWith(1)).isEqualTo(List.of(11, 13));
        }
    }
}
