package dev.vacancy.examples.web;

import dev.vacancy.CommitListener;
import dev.vacancy.Outcome;
import dev.vacancy.Vacancy;
import dev.vacancy.history.RestoreOutcome;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Handles what follows deletions, in a thread of its own: at once after each commit, and again and again for what has to wait. */
final class FollowingUp implements CommitListener {
    private static final Logger LOG = LoggerFactory.getLogger(FollowingUp.class);
    private static final long SECONDS_BETWEEN = 2;

    private final Semaphore news = new Semaphore(0);
    private final ExecutorService worker = Executors.newSingleThreadExecutor(task -> {
        Thread thread = new Thread(task, "larkmoor-follow-ups");
        thread.setDaemon(true);
        return thread;
    });

    void begin(Vacancy vacancy) {
        worker.execute(() -> {
            try {
                while (true) {
                    handle(vacancy);
                    if (news.tryAcquire(SECONDS_BETWEEN, TimeUnit.SECONDS)) {
                        news.drainPermits();
                    }
                }
            } catch (InterruptedException ended) {
                Thread.currentThread().interrupt();
            }
        });
    }

    private static void handle(Vacancy vacancy) {
        try {
            vacancy.followUps().work();
        } catch (RuntimeException failure) {
            LOG.warn("What follows is handled at the next turn", failure);
        }
    }

    @Override
    public void deleted(Outcome outcome) {
        news.release();
    }

    @Override
    public void restored(RestoreOutcome outcome) {
        news.release();
    }

    void close() {
        worker.shutdownNow();
    }
}
