package dev.vacancy.spring.boot;

import dev.vacancy.TransactionSource;
import dev.vacancy.Vacancy;
import javax.sql.DataSource;
import org.springframework.boot.autoconfigure.AutoConfiguration;
import org.springframework.boot.autoconfigure.condition.ConditionalOnBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnClass;
import org.springframework.boot.autoconfigure.condition.ConditionalOnMissingBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnProperty;
import org.springframework.boot.health.contributor.HealthIndicator;
import org.springframework.context.annotation.Bean;

/**
 * Tells by the health of the application whether the database still has what the rules need and is as it was at the start, and of how many bulk
 * runs nobody works on. It is left out by {@code
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
            DataSource source,
            VacancyAutoConfiguration.ApplyingRules rules,
            TransactionSource transactions,
            Vacancy vacancy) {
        return new DatabaseHealth(source, rules.book(), transactions, vacancy);
    }
}
