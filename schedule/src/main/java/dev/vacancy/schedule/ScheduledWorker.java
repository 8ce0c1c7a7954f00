package dev.vacancy.schedule;

import com.github.kagkarlsson.scheduler.Scheduler;
import com.github.kagkarlsson.scheduler.jdbc.JdbcCustomization;
import com.github.kagkarlsson.scheduler.task.Task;
import dev.vacancy.bulk.BulkListener;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.catalog.RecordContent;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import javax.sql.DataSource;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Starts scheduled deletions when they are due, and works on bulk runs beside other workers. One that dies leaves its chunk as it
 * was, for others to take.
 *
 * @since 0.1
 */
public final class ScheduledWorker implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(ScheduledWorker.class);
    private static final Duration LOOKING_EVERY = Duration.ofSeconds(1);
    private static final Duration HEARTBEAT = Duration.ofSeconds(10);
    private static final Duration LONGEST_END = Duration.ofMinutes(1);

    private final Scheduler scheduler;
    private final BulkRuns runs;
    private final BulkOptions options;
    private final List<Exemption> exemptions;
    private final ScheduleListener listener;
    private final CountDownLatch ended = new CountDownLatch(1);
    private final Thread working = new Thread(this::work, "vacancy-worker");

    ScheduledWorker(
            DataSource dataSource,
            JdbcCustomization customization,
            Task<Stored> task,
            BulkRuns runs,
            BulkOptions options,
            List<Exemption> exemptions,
            ScheduleListener listener,
            Clock clock) {
        this.runs = runs;
        this.options = options;
        this.exemptions = exemptions;
        this.listener = listener;
        this.scheduler = Scheduler.create(dataSource, List.of(task))
                .tableName(ScheduledRuns.TABLE)
                .serializer(Stored.AS_JSON)
                .jdbcCustomization(customization)
                .clock(clock::instant)
                .threads(1)
                .pollingInterval(LOOKING_EVERY)
                .heartbeatInterval(HEARTBEAT)
                .build();
    }

    /** Begins to start what is due, and nothing else: for those who work on bulk runs themselves. */
    public void startStarting() {
        scheduler.start();
    }

    /** Begins to work, on threads of its own, until it is closed. */
    public void start() {
        startStarting();
        working.start();
    }

    private void work() {
        while (ended.getCount() > 0) {
            try {
                for (BulkRun run : runs.list(BulkState.RUNNING)) {
                    if (ended.getCount() > 0) {
                        work(run);
                    }
                }
                ended.await(LOOKING_EVERY.toMillis(), TimeUnit.MILLISECONDS);
            } catch (InterruptedException end) {
                Thread.currentThread().interrupt();
                return;
            } catch (RuntimeException failure) {
                LOG.warn("A bulk run could not be worked on; it is tried again", failure);
                rest();
            }
        }
    }

    /** Thrown after a chunk, when the worker is closed. */
    private static final class Closed extends RuntimeException {
        private static final long serialVersionUID = 1L;
    }

    /** A run of which this worker doesn't know what to keep is another one's. */
    private void work(BulkRun run) {
        String name = runs.exemption(run.runId());
        Optional<Exemption> exemption = name.isEmpty()
                ? Optional.of(Exemption.none())
                : exemptions.stream().filter(each -> each.name().equals(name)).findFirst();
        if (exemption.isPresent()) {
            work(run, exemption.get());
        } else {
            LOG.debug("Bulk run {} is left to workers that have the exemption '{}'", run.runId(), name);
        }
    }

    private void work(BulkRun run, Exemption exemption) {
        try {
            runs.work(run.runId(), options, exemption, new BulkListener() {
                @Override
                public void progressed(BulkRun now) {
                    listener.progressed(now);
                    if (ended.getCount() == 0) {
                        throw new Closed();
                    }
                }

                @Override
                public void deleted(List<RecordContent> records) {
                    listener.deleted(records);
                }

                @Override
                public void ended(BulkRun now) {
                    listener.ended(now);
                }
            });
        } catch (Closed end) {
            LOG.debug("The worker was closed in the middle of bulk run {}", run.runId(), end);
        }
    }

    private void rest() {
        try {
            ended.await(LOOKING_EVERY.toMillis(), TimeUnit.MILLISECONDS);
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
        }
    }

    /** Ends after the chunk that is being worked on. */
    @Override
    public void close() {
        ended.countDown();
        scheduler.stop();
        try {
            working.join(LONGEST_END.toMillis());
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
        }
    }
}
