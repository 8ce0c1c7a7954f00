package dev.vacancy.spring.boot;

import dev.vacancy.CommitListener;
import dev.vacancy.Outcome;
import dev.vacancy.Vacancy;
import dev.vacancy.followup.FollowUpState;
import dev.vacancy.history.RestoreOutcome;
import io.micrometer.core.instrument.Counter;
import io.micrometer.core.instrument.Gauge;
import io.micrometer.core.instrument.MeterRegistry;
import io.micrometer.core.instrument.Timer;
import java.util.Map;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.beans.factory.SmartInitializingSingleton;
import org.springframework.boot.autoconfigure.AutoConfiguration;
import org.springframework.boot.autoconfigure.condition.ConditionalOnBean;
import org.springframework.boot.autoconfigure.condition.ConditionalOnClass;
import org.springframework.context.annotation.Bean;

/**
 * Times and counts what was deleted and restored, once it is committed: {@code vacancy.deletions} by the table of the selection, {@code
 * vacancy.deleted.records} and {@code vacancy.restored.records} by table; and tells how many messages of follow-ups have failed for good, {@code
 * vacancy.follow.ups.failed}.
 *
 * @since 0.1
 */
@AutoConfiguration(
        before = VacancyAutoConfiguration.class,
        afterName = {
            "org.springframework.boot.micrometer.metrics.autoconfigure.CompositeMeterRegistryAutoConfiguration",
            "org.springframework.boot.micrometer.metrics.autoconfigure.export.simple.SimpleMetricsExportAutoConfiguration",
            "org.springframework.boot.actuate.autoconfigure.metrics.CompositeMeterRegistryAutoConfiguration",
            "org.springframework.boot.actuate.autoconfigure.metrics.export.simple.SimpleMetricsExportAutoConfiguration"
        })
@ConditionalOnClass(MeterRegistry.class)
@ConditionalOnBean(MeterRegistry.class)
public class VacancyMetricsAutoConfiguration {
    /** Made by Spring. */
    VacancyMetricsAutoConfiguration() {}

    @Bean
    CommitListener vacancyMetrics(MeterRegistry registry) {
        return new Counting(registry);
    }

    /** Once all is there: what was made before would be asked for too early. */
    @Bean
    SmartInitializingSingleton vacancyFollowUpMetrics(MeterRegistry registry, ObjectProvider<Vacancy> vacancies) {
        return () -> vacancies.stream()
                .filter(FollowUpLifecycle::isNeeded)
                .forEach(vacancy -> Gauge.builder(
                                "vacancy.follow.ups.failed",
                                vacancy,
                                over -> over.followUps().count(FollowUpState.FAILED))
                        .description("Messages that wait for somebody to send them again")
                        .register(registry));
    }

    /** Counts by table. */
    private record Counting(MeterRegistry registry) implements CommitListener {
        @Override
        public void deleted(Outcome outcome) {
            Timer.builder("vacancy.deletions")
                    .description("How long deletions took that were committed")
                    .tag("table", outcome.table())
                    .register(registry)
                    .record(outcome.took());
            add("vacancy.deleted.records", "Records that were deleted or marked", outcome.counts());
        }

        @Override
        public void restored(RestoreOutcome outcome) {
            add("vacancy.restored.records", "Records that were brought back", outcome.counts());
        }

        private void add(String name, String description, Map<String, Long> counts) {
            counts.forEach((table, count) -> counter(name, description, table).increment(count));
        }

        private Counter counter(String name, String description, String table) {
            return Counter.builder(name)
                    .description(description)
                    .tag("table", table)
                    .register(registry);
        }
    }
}
