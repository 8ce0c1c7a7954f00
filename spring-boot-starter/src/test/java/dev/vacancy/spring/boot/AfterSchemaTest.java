package dev.vacancy.spring.boot;

import static org.assertj.core.api.Assertions.assertThat;

import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.testing.Database;
import dev.vacancy.testing.Engine;
import javax.sql.DataSource;
import org.junit.jupiter.api.Test;
import org.springframework.boot.autoconfigure.AutoConfigurations;
import org.springframework.boot.flyway.autoconfigure.FlywayAutoConfiguration;
import org.springframework.boot.jdbc.autoconfigure.DataSourceInitializationAutoConfiguration;
import org.springframework.boot.liquibase.autoconfigure.LiquibaseAutoConfiguration;
import org.springframework.boot.test.context.runner.ApplicationContextRunner;

/** The catalog is read when the schema is there, whoever makes it. */
class AfterSchemaTest {
    private final Database database = Engine.H2.database();

    private ApplicationContextRunner application(Class<?> maker) {
        return new ApplicationContextRunner()
                .withBean(Vacancy.class, () -> Vacancy.over(database.source(), RuleBook.bySchema()))
                .withBean("dataSource", DataSource.class, database::source)
                .withConfiguration(AutoConfigurations.of(VacancyAutoConfiguration.class, maker));
    }

    private static void assertKnown(ApplicationContextRunner application) {
        application.run(context -> assertThat(context.getBean(Vacancy.class)
                        .plan(Selection.of("pier").key(1), By.user("una"))
                        .total())
                .isEqualTo(1));
    }

    @Test
    void scriptsComeFirst() {
        assertKnown(application(DataSourceInitializationAutoConfiguration.class)
                .withPropertyValues(
                        "spring.sql.init.mode=always", "spring.sql.init.schema-locations=classpath:marina.sql"));
    }

    @Test
    void migrationsByFlywayComeFirst() {
        assertKnown(application(FlywayAutoConfiguration.class));
    }

    @Test
    void migrationsByLiquibaseComeFirst() {
        assertKnown(application(LiquibaseAutoConfiguration.class)
                .withPropertyValues("spring.liquibase.change-log=classpath:marina-changes.sql"));
    }
}
