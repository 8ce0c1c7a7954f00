package dev.vacancy.spring.boot;

import dev.vacancy.Vacancy;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.boot.actuate.autoconfigure.endpoint.condition.ConditionalOnAvailableEndpoint;
import org.springframework.boot.autoconfigure.AutoConfiguration;
import org.springframework.boot.autoconfigure.condition.ConditionalOnBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnClass;
import org.springframework.context.annotation.Bean;

/**
 * Offers the endpoint {@code vacancy}: the rules with where each comes from, and the bulk runs. It is exposed as others are, by {@code
 * management.endpoints.web.exposure.include}.
 *
 * @since 0.1
 */
@AutoConfiguration(after = VacancyAutoConfiguration.class)
@ConditionalOnClass(ConditionalOnAvailableEndpoint.class)
@ConditionalOnBean(Vacancy.class)
public class VacancyEndpointAutoConfiguration {
    /** Made by Spring. */
    VacancyEndpointAutoConfiguration() {}

    @Bean
    @ConditionalOnAvailableEndpoint(VacancyEndpoint.class)
    VacancyEndpoint vacancyEndpoint(Vacancy vacancy, ObjectProvider<MappedRules> mapped) {
        return new VacancyEndpoint(vacancy, mapped.getIfAvailable(() -> MappedRules.NONE));
    }
}
