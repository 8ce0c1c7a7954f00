package dev.vacancy.spring.boot;

import dev.vacancy.TransactionSource;
import dev.vacancy.Vacancy;
import dev.vacancy.rule.Ddl;
import java.util.List;
import javax.sql.DataSource;
import org.springframework.boot.autoconfigure.AutoConfiguration;
import org.springframework.boot.autoconfigure.condition.ConditionalOnBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnClass;
import org.springframework.boot.autoconfigure.condition.ConditionalOnMissingBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnProperty;
import org.springframework.boot.health.contributor.AbstractHealthIndicator;
import org.springframework.boot.health.contributor.Health;
import org.springframework.boot.health.contributor.HealthIndicator;
import org.springframework.context.annotation.Bean;

/**
 * Tells by the health of the application whether the database still has what the rules need. It is left out by {@code
 * management.health.vacancy.enabled=false}.
 *
 * @since 0.1
 */
@AutoConfiguration(after = VacancyAutoConfiguration.class)
@ConditionalOnClass(HealthIndicator.class)
@ConditionalOnBean({Vacancy.class, VacancyAutoConfiguration.ApplyingRules.class})
@ConditionalOnProperty(name = "management.health.vacancy.enabled", matchIfMissing = true)
public class VacancyHealthAutoConfiguration {
    /** Made by Spring. */
    VacancyHealthAutoConfiguration() {}

    @Bean
    @ConditionalOnMissingBean(name = "vacancyHealthIndicator")
    HealthIndicator vacancyHealthIndicator(
            DataSource source, VacancyAutoConfiguration.ApplyingRules rules, TransactionSource transactions) {
        return new AbstractHealthIndicator("The database can't be asked what it has") {
            @Override
            protected void doHealthCheck(Health.Builder health) {
                List<String> missing =
                        Ddl.of(source, rules.book(), transactions).statements();
                if (missing.isEmpty()) {
                    health.up();
                } else {
                    health.down()
                            .withDetail("missing", missing.size())
                            .withDetail(
                                    "remedy", "Run what Ddl.statements() gives, or start with vacancy.schema=create.");
                }
            }
        };
    }
}
