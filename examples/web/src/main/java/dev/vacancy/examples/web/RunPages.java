package dev.vacancy.examples.web;

import dev.vacancy.Approval;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import java.io.IOException;
import java.time.Duration;
import java.time.Instant;
import java.util.Locale;
import java.util.UUID;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** A bulk run, as it goes on. */
final class RunPages {
    private static final Logger LOG = LoggerFactory.getLogger(RunPages.class);

    /** Small and slow enough to be watched. */
    private static final BulkOptions OPTIONS = BulkOptions.defaults().chunk(500).pause(Duration.ofMillis(250));

    private static final Duration LONGEST_SILENCE = Duration.ofMinutes(1);

    private final BulkRuns runs;
    private volatile boolean closing;
    private final ExecutorService worker = Executors.newSingleThreadExecutor(task -> {
        Thread thread = new Thread(task, "larkmoor-runs");
        thread.setDaemon(true);
        return thread;
    });

    RunPages(Vacancy vacancy) {
        this.runs = vacancy.bulk();
    }

    UUID begin(Approval approval) {
        UUID run = runs.start(approval, OPTIONS).runId();
        work(run);
        return run;
    }

    private void work(UUID run) {
        worker.execute(() -> {
            try {
                runs.work(run, OPTIONS, Exemption.none(), this::goOn);
            } catch (RuntimeException failure) {
                LOG.warn("Run {} can be resumed", run, failure);
            }
        });
    }

    /** Between two chunks, each of which is whole. */
    private void goOn(BulkRun progress) {
        if (closing) {
            throw new IllegalStateException("the application ends");
        }
    }

    void show(Visit visit) throws IOException {
        BulkRun run = runs.run(visit.run());
        boolean running = run.state() == BulkState.RUNNING;
        Html html = new Html();
        html.element("p", run.selection() + ", by " + run.by().actor());
        html.markup("<p><label>Done <progress data-run=\"")
                .text(run.runId())
                .markup("\" max=\"" + Math.max(1, run.records()) + "\" value=\"" + settled(run)
                        + "\"></progress></label> ")
                .markup("<span id=\"told\" role=\"status\">")
                .text(told(run))
                .markup("</span></p>");
        Duration idle = run.idle(Instant.now());
        if (idle.compareTo(LONGEST_SILENCE) > 0) {
            html.markup("<p class=\"note\">")
                    .text("Nobody has worked on it since ")
                    .time(run.workedAt())
                    .text(". It goes on by itself as soon as somebody is there.")
                    .markup("</p>");
        }
        if (!run.state().isFinal()) {
            html.markup(visit.form("/run").toString())
                    .hidden("run", run.runId())
                    .markup("<div class=\"choice\">");
            html.markup(
                    running
                            ? "<button name=\"what\" value=\"pause\">Pause</button>"
                            : "<button name=\"what\" value=\"resume\">Go on</button>");
            html.markup("<button name=\"what\" value=\"cancel\">Stop for good</button></div></form>");
        }
        html.markup("<p><a href=\"/history\">What happened</a></p>");
        String again = running ? "<noscript><meta http-equiv=\"refresh\" content=\"2\"></noscript>" : "";
        visit.page(200, "Deleting in chunks: " + run.state(), html, again);
    }

    private static long settled(BulkRun run) {
        return run.done() + run.skipped() + run.failed();
    }

    private static String told(BulkRun run) {
        return String.format(
                Locale.ROOT,
                "%,d of %,d, %,d left out, %,d failed",
                run.done(),
                run.records(),
                run.skipped(),
                run.failed());
    }

    void steer(Visit visit) {
        UUID run = visit.run();
        switch (visit.value("what").orElse("")) {
            case "pause" -> runs.pause(run);
            case "cancel" -> runs.cancel(run);
            case "resume" -> {
                runs.resume(run);
                work(run);
            }
            default -> runs.run(run);
        }
        visit.redirect("/run?run=" + run);
    }

    void close() {
        closing = true;
        worker.shutdown();
    }
}
