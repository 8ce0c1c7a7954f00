package dev.vacancy.web;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.JsonForm;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Set;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Bulk runs as resources: begun, watched, paused, resumed and cancelled. The work is done beside the requests. */
final class BulkResources {
    private static final Logger LOG = LoggerFactory.getLogger(BulkResources.class);
    private static final int WORKERS = 2;
    private static final int TURNS_OF_PATIENCE = 4;
    private static final int MOST_WATCHERS = 20;
    private static final int MOST_OF_ONE = 5;
    private static final int TOO_MANY_REQUESTS = 429;
    private static final long TURN_MILLIS = 250;
    private static final int LONGEST_SILENCE = 60;
    private static final String AGAIN = "Retry-After";
    static final String EVENTS = "text/event-stream";
    private static final String UTF_8 = ";charset=UTF-8";

    private final Offer offer;
    private final ScheduledFuture<?> turns;
    private volatile boolean closing;
    private final Map<String, Integer> watchers = new HashMap<>();
    private final Map<UUID, Integer> working = new ConcurrentHashMap<>();
    private final Set<UUID> refused = ConcurrentHashMap.newKeySet();
    private final ScheduledExecutorService lookout = Executors.newSingleThreadScheduledExecutor(task -> {
        Thread thread = new Thread(task, "vacancy-bulk-run-lookout");
        thread.setDaemon(true);
        return thread;
    });
    private final ExecutorService workers = Executors.newFixedThreadPool(WORKERS, task -> {
        Thread thread = new Thread(task, "vacancy-bulk-run");
        thread.setDaemon(true);
        return thread;
    });

    BulkResources(Offer offer) {
        this.offer = offer;
        long turn = Math.max(1, offer.options().patience().toMillis() / TURNS_OF_PATIENCE);
        this.turns = lookout.scheduleWithFixedDelay(this::takeOver, turn, turn, TimeUnit.MILLISECONDS);
    }

    /** Works on what has lost its worker: whoever is at it after all shares the work, as no record is claimed twice. */
    private void takeOver() {
        try {
            Instant now = Instant.now();
            for (BulkRun run : offer.vacancy().bulk().list()) {
                boolean idle = run.idle(now).compareTo(offer.options().patience()) >= 0;
                boolean free = !working.containsKey(run.runId()) && !refused.contains(run.runId());
                if (idle && free && offer.has(run.table()) && isOurs(run)) {
                    LOG.info(
                            "Nobody has worked on bulk run {} since {}; it is taken over", run.runId(), run.workedAt());
                    work(run.runId());
                }
            }
        } catch (RuntimeException later) {
            LOG.debug("Whether a bulk run has lost its worker is looked for again", later);
        }
    }

    /** What was started with an exemption is for those who have it. */
    private boolean isOurs(BulkRun run) {
        return offer.vacancy().bulk().exemption(run.runId()).isEmpty();
    }

    /** Begins a run that the caller has asked permission for, and has it worked on. */
    UUID start(Approval approval) {
        By by = approval.plan().by();
        UUID run = runs(by).start(approval, BulkOptions.defaults()).runId();
        work(run);
        return run;
    }

    /** Has a run worked on, beside the requests. */
    void work(UUID run) {
        working.merge(run, 1, Integer::sum);
        workers.execute(() -> {
            try {
                offer.vacancy().bulk().work(run, BulkOptions.defaults(), Exemption.none(), this::goOn);
            } catch (Closing end) {
                LOG.info("Bulk run {} is left where it is, and can be resumed", run);
            } catch (InvalidRequestException notHere) {
                // Begun with other rules, say: that is so until this process is started anew.
                refused.add(run);
                LOG.warn("Bulk run {} can't be worked on here", run, notHere);
            } catch (RuntimeException failure) {
                LOG.warn("Bulk run {} has met something; it can be resumed", run, failure);
            } finally {
                working.computeIfPresent(run, (id, own) -> own == 1 ? null : own - 1);
            }
        });
    }

    /** Between two chunks, so that no connection is interrupted in the middle of one. */
    private void goOn(BulkRun progress) {
        if (closing) {
            throw new Closing();
        }
    }

    /** The servlet is taken out of service. */
    private static final class Closing extends RuntimeException {
        private static final long serialVersionUID = 1L;
    }

    /** Says where a run can be watched (RFC 9110, section 15.3.3). */
    Answer accepted(UUID run, Exchange exchange) {
        return Answer.ok(JsonForm.of(find(run, exchange)))
                .as(HttpServletResponse.SC_ACCEPTED)
                .with("Location", exchange.address("runs", run.toString()))
                .with(AGAIN, "1");
    }

    Answer list(Exchange exchange) {
        Page page = Page.of(exchange);
        return page.of(
                runs(exchange.by()).list().stream()
                        .filter(run -> offer.has(run.table()))
                        .skip(page.offset())
                        .limit(page.wanted())
                        .toList(),
                JsonForm::of,
                exchange);
    }

    Answer show(Exchange exchange) {
        BulkRun run = find(id(exchange), exchange);
        Answer answer = Answer.ok(JsonForm.of(run));
        return run.state() == BulkState.RUNNING ? answer.with(AGAIN, "1") : answer;
    }

    Answer steer(Exchange exchange) {
        UUID id = find(id(exchange), exchange).runId();
        BulkRuns runs = runs(exchange.by());
        BulkRun run = switch (exchange.path().get(2)) {
            case "pause" -> runs.pause(id);
            case "cancel" -> runs.cancel(id);
            case "resume" -> runs.resume(id);
            default -> throw Problem.notFound();
        };
        if (run.state() == BulkState.RUNNING) {
            work(id);
        }
        return Answer.ok(JsonForm.of(run));
    }

    /** Tells of a run as it goes on, as server-sent events (HTML, section 9.2), until nobody works on it any more. */
    Answer watch(Exchange exchange) throws IOException {
        UUID id = id(exchange);
        find(id, exchange);
        HttpServletResponse response = exchange.response();
        if (exchange.request().getMethod().equals("HEAD")) {
            // There is nothing to wait for.
            response.setContentType(EVENTS + UTF_8);
            return Answer.sent();
        }
        String watcher = exchange.by().actor();
        sit(watcher);
        try {
            response.setContentType(EVENTS + UTF_8);
            tell(id, exchange, response.getOutputStream());
            return Answer.sent();
        } finally {
            leave(watcher);
        }
    }

    /** Each stream holds a thread of the container, so that nobody takes all of them, nor one person those of the others. */
    private synchronized void sit(String watcher) {
        int own = watchers.getOrDefault(watcher, 0);
        int all = watchers.values().stream().mapToInt(Integer::intValue).sum();
        if (own >= MOST_OF_ONE || all >= MOST_WATCHERS) {
            boolean others = own < MOST_OF_ONE;
            throw Problem.of(
                            others ? HttpServletResponse.SC_SERVICE_UNAVAILABLE : TOO_MANY_REQUESTS,
                            "too-many-watchers",
                            others
                                    ? MOST_WATCHERS + " others are watching runs already."
                                    : watcher + " is watching " + MOST_OF_ONE + " runs already.",
                            "Ask for the run itself from time to time.")
                    .with(AGAIN, "5");
        }
        watchers.put(watcher, own + 1);
    }

    private synchronized void leave(String watcher) {
        watchers.computeIfPresent(watcher, (name, own) -> own == 1 ? null : own - 1);
    }

    private void tell(UUID id, Exchange exchange, OutputStream out) throws IOException {
        String sent = "";
        int silence = 0;
        while (true) {
            BulkRun run = find(id, exchange);
            String view = Exchange.JSON.writeValueAsString(JsonForm.of(run));
            boolean over = run.state() != BulkState.RUNNING;
            if (!view.equals(sent) || over) {
                String event = "event: " + (over ? run.state() : "progress") + "\ndata: " + view + "\n\n";
                out.write(event.getBytes(StandardCharsets.UTF_8));
                silence = 0;
            } else if (++silence % LONGEST_SILENCE == 0) {
                // Whoever has gone is noticed by writing.
                out.write(":\n\n".getBytes(StandardCharsets.UTF_8));
            }
            out.flush();
            if (over || closing || !pause()) {
                return;
            }
            sent = view;
        }
    }

    private static boolean pause() {
        try {
            TimeUnit.MILLISECONDS.sleep(TURN_MILLIS);
            return true;
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
            return false;
        }
    }

    private BulkRuns runs(By by) {
        return offer.of(by).bulk();
    }

    private static UUID id(Exchange exchange) {
        return Exchange.id(exchange.path().get(1));
    }

    private BulkRun find(UUID id, Exchange exchange) {
        BulkRun run = runs(exchange.by()).run(id);
        if (!offer.has(run.table())) {
            throw Problem.notFound();
        }
        return run;
    }

    /** What is being worked on is left where it is: each chunk is whole, and any process can resume. */
    void close() {
        closing = true;
        turns.cancel(false);
        lookout.shutdown();
        workers.shutdown();
    }
}
