package dev.vacancy.spring.boot;

import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.schedule.ScheduledDeletion;
import dev.vacancy.schedule.ScheduledRuns;
import dev.vacancy.schedule.ScheduledWorker;
import dev.vacancy.schedule.Timing;
import java.time.ZoneId;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Supplier;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;

/** What works beside the requests of an application, from its start to its end. */
final class WorkerLifecycle implements SmartLifecycle {
    private static final Logger LOG = LoggerFactory.getLogger(VacancyScheduleAutoConfiguration.class);

    private final ScheduledRuns runs;
    private final VacancyProperties properties;
    private final String application;
    private final Supplier<ScheduledWorker> makesWorker;
    private @Nullable ScheduledWorker worker;
    private boolean running;

    WorkerLifecycle(
            ScheduledRuns runs,
            VacancyProperties properties,
            String application,
            Supplier<ScheduledWorker> makesWorker) {
        this.runs = runs;
        this.properties = properties;
        this.application = application;
        this.makesWorker = makesWorker;
    }

    @Override
    public synchronized void start() {
        properties.scheduled().forEach((name, given) -> schedule(deletion(name, given)));
        if (properties.worker()) {
            worker = makesWorker.get();
            worker.start();
        }
        running = true;
    }

    /** Another process may be starting it at this moment; that is no reason not to start. */
    private void schedule(ScheduledDeletion deletion) {
        try {
            runs.scheduleOrUpdate(deletion);
        } catch (InvalidRequestException refused) {
            if (refused.code() != FailureCode.RUN_STATE) {
                throw refused;
            }
            LOG.warn("Scheduled deletion '{}' stays as it was until the next start", deletion.name(), refused);
        }
    }

    private ScheduledDeletion deletion(String name, VacancyProperties.Scheduled given) {
        if (given.table() == null || (given.where() == null) == !given.allRecords()) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "vacancy.scheduled." + name + " doesn't say of which table it deletes which records.",
                    "Give it a table, and either where or all-records=true.");
        }
        String by = given.by() == null ? application : given.by();
        ZoneId zone = given.zone() == null ? ZoneId.systemDefault() : given.zone();
        ScheduledDeletion deletion = new ScheduledDeletion(
                name,
                given.table(),
                Optional.ofNullable(given.where()),
                given.reason() == null ? By.program(by) : By.program(by).because(given.reason()),
                given.atMost() == null ? OptionalLong.empty() : OptionalLong.of(given.atMost()),
                new Timing(Optional.empty(), Optional.ofNullable(given.every()), zone));
        return given.exemption() == null ? deletion : deletion.exempting(given.exemption());
    }

    @Override
    public synchronized void stop() {
        if (worker != null) {
            worker.close();
            worker = null;
        }
        running = false;
    }

    @Override
    public synchronized boolean isRunning() {
        return running;
    }
}
