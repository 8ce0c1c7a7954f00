package dev.vacancy.spring.boot;

import io.micrometer.observation.ObservationRegistry;
import org.springframework.boot.autoconfigure.AutoConfiguration;
import org.springframework.boot.autoconfigure.condition.ConditionalOnBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnClass;
import org.springframework.context.annotation.Bean;

/**
 * Makes an observation of each plan, deletion, run, trace and message that is handled: {@code vacancy.plan}, {@code vacancy.delete}, {@code
 * vacancy.run}, {@code vacancy.trace}, {@code vacancy.follow.up}, with the table as a key value.
 *
 * @since 0.1
 */
@AutoConfiguration(
        before = VacancyAutoConfiguration.class,
        // Where it is since Spring Boot 4, and where it was before.
        afterName = {
            "org.springframework.boot.micrometer.observation.autoconfigure.ObservationAutoConfiguration",
            "org.springframework.boot.actuate.autoconfigure.observation.ObservationAutoConfiguration"
        })
@ConditionalOnClass(ObservationRegistry.class)
@ConditionalOnBean(ObservationRegistry.class)
public class VacancyObservationAutoConfiguration {
    /** Made by Spring. */
    VacancyObservationAutoConfiguration() {}

    @Bean
    VacancyCustomizer vacancyObservations(ObservationRegistry registry) {
        return vacancy -> Observing.by(registry, vacancy);
    }
}
