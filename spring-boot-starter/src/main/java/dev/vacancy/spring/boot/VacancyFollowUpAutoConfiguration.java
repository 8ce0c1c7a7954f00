package dev.vacancy.spring.boot;

import dev.vacancy.Vacancy;
import dev.vacancy.followup.FollowUpHandler;
import org.springframework.boot.autoconfigure.AutoConfiguration;
import org.springframework.boot.autoconfigure.condition.ConditionalOnBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnProperty;
import org.springframework.context.annotation.Bean;

/**
 * Has handled what follows runs outside of the database, where {@code vacancy.worker} says so: by every {@link FollowUpHandler} that is a
 * bean, each of which has the name of the follow-up.
 *
 * @since 0.1
 */
@AutoConfiguration(after = VacancyAutoConfiguration.class)
@ConditionalOnBean({Vacancy.class, FollowUpHandler.class})
@ConditionalOnProperty(name = "vacancy.worker", havingValue = "true")
public class VacancyFollowUpAutoConfiguration {
    /** Made by Spring. */
    VacancyFollowUpAutoConfiguration() {}

    @Bean
    FollowUpLifecycle vacancyFollowUpWorker(Vacancy vacancy) {
        return new FollowUpLifecycle(vacancy);
    }
}
