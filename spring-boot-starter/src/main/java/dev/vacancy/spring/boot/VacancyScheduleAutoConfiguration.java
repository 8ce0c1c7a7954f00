package dev.vacancy.spring.boot;

import dev.vacancy.TransactionSource;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.schedule.ScheduleListener;
import dev.vacancy.schedule.ScheduledRuns;
import javax.sql.DataSource;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.boot.autoconfigure.AutoConfiguration;
import org.springframework.boot.autoconfigure.condition.AnyNestedCondition;
import org.springframework.boot.autoconfigure.condition.ConditionalOnBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnMissingBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnProperty;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Conditional;
import org.springframework.core.env.Environment;

/**
 * Schedules the deletions of {@code vacancy.scheduled}, and works on bulk runs where {@code vacancy.worker} says so. Every {@link Exemption}
 * that is a bean is one of the worker's; of several {@link ScheduleListener} beans the first is notified.
 *
 * @since 0.1
 */
@AutoConfiguration(after = VacancyAutoConfiguration.class)
@ConditionalOnBean(Vacancy.class)
@Conditional(VacancyScheduleAutoConfiguration.IsWanted.class)
public class VacancyScheduleAutoConfiguration {
    /** Made by Spring. */
    VacancyScheduleAutoConfiguration() {}

    /** Where nothing is scheduled and nobody works, none of its tables is needed. */
    static final class IsWanted extends AnyNestedCondition {
        IsWanted() {
            super(ConfigurationPhase.REGISTER_BEAN);
        }

        @ConditionalOnProperty(name = "vacancy.worker", havingValue = "true")
        static final class Working {}

        @Conditional(ScheduledCondition.class)
        static final class Scheduled {}
    }

    @Bean
    @ConditionalOnMissingBean
    ScheduledRuns vacancyScheduledRuns(
            DataSource source, Vacancy vacancy, TransactionSource transactions, VacancyProperties properties) {
        if (properties.schema() == VacancyProperties.Schema.CREATE) {
            Ddl.of(source, RuleBook.bySchema(), transactions, Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE)
                    .apply();
        }
        return ScheduledRuns.over(source, vacancy);
    }

    @Bean
    @ConditionalOnMissingBean
    BulkOptions vacancyBulkOptions() {
        return BulkOptions.defaults();
    }

    @Bean
    WorkerLifecycle vacancyWorker(
            ScheduledRuns runs,
            VacancyProperties properties,
            BulkOptions options,
            ObjectProvider<ScheduleListener> listeners,
            ObjectProvider<Exemption> exemptions,
            Environment environment) {
        return new WorkerLifecycle(
                runs,
                properties,
                environment.getProperty("spring.application.name", "application"),
                () -> runs.worker(
                        options,
                        listeners.orderedStream().findFirst().orElseGet(LoggedSchedule::new),
                        exemptions.orderedStream().toArray(Exemption[]::new)));
    }
}
