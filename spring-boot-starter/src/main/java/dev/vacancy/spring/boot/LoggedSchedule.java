package dev.vacancy.spring.boot;

import dev.vacancy.bulk.BulkRun;
import dev.vacancy.schedule.ScheduleListener;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Writes to the log what comes of scheduled deletions, where the application doesn't listen itself. */
final class LoggedSchedule implements ScheduleListener {
    private static final Logger LOG = LoggerFactory.getLogger(VacancyScheduleAutoConfiguration.class);

    @Override
    public void started(String name, BulkRun run) {
        LOG.info("Scheduled deletion '{}' began as bulk run {}", name, run.runId());
    }

    @Override
    public void ended(BulkRun run) {
        LOG.info(
                "Bulk run {} '{}' is {}: {} of {} records",
                run.runId(),
                run.name(),
                run.state(),
                run.done(),
                run.records());
    }

    @Override
    public void leftOut(String name, String reason) {
        LOG.info("Scheduled deletion '{}' was left out: {}", name, reason);
    }

    @Override
    public void refused(String name, RuntimeException refusal) {
        LOG.warn("Scheduled deletion '{}' was refused", name, refusal);
    }
}
