package dev.vacancy.spring.boot;

import dev.vacancy.Vacancy;
import dev.vacancy.internal.engine.Engine;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import org.jspecify.annotations.Nullable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;

/** Handles what follows runs beside the requests of an application, from its start to its end. */
final class FollowUpLifecycle implements SmartLifecycle {
    private static final Logger LOG = LoggerFactory.getLogger(VacancyFollowUpAutoConfiguration.class);
    private static final long PAUSE_SECONDS = 1;
    private static final long LONGEST_END_SECONDS = 30;

    private final Vacancy vacancy;
    private @Nullable ScheduledExecutorService worker;
    private @Nullable ScheduledFuture<?> working;

    FollowUpLifecycle(Vacancy vacancy) {
        this.vacancy = vacancy;
    }

    /** Whether the rules name any follow-up. */
    static boolean isNeeded(Vacancy vacancy) {
        return Engine.of(vacancy)
                .rules()
                .recording()
                .filter(kept -> !kept.followUps().isEmpty())
                .isPresent();
    }

    @Override
    public synchronized void start() {
        worker = Executors.newSingleThreadScheduledExecutor(task -> {
            Thread thread = new Thread(task, "vacancy-follow-ups");
            thread.setDaemon(true);
            return thread;
        });
        working = worker.scheduleWithFixedDelay(this::work, PAUSE_SECONDS, PAUSE_SECONDS, TimeUnit.SECONDS);
    }

    private void work() {
        try {
            vacancy.followUps().work();
        } catch (RuntimeException failure) {
            LOG.warn("What follows runs can't be handled now; it is tried again", failure);
        }
    }

    @Override
    public synchronized void stop() {
        if (worker != null && working != null) {
            working.cancel(true);
            worker.shutdownNow();
            try {
                if (!worker.awaitTermination(LONGEST_END_SECONDS, TimeUnit.SECONDS)) {
                    LOG.warn("A handler of what follows runs doesn't end");
                }
            } catch (InterruptedException end) {
                Thread.currentThread().interrupt();
            }
            worker = null;
        }
    }

    @Override
    public synchronized boolean isRunning() {
        return worker != null;
    }
}
