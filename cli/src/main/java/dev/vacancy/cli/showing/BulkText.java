package dev.vacancy.cli.showing;

import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.FailedRecord;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** Writes bulk runs for people. */
public final class BulkText {
    private static final int LONGEST_NAME = 34;

    /** A chunk takes less, and what waits for a lock no longer. */
    private static final Duration LONGEST_SILENCE = Duration.ofMinutes(1);

    private BulkText() {}

    /** One line on how far a run is. */
    public static String progress(BulkRun run) {
        long dealtWith = run.records() - run.open();
        long percent = run.records() == 0 ? 100 : 100 * dealtWith / run.records();
        return String.format(
                Locale.ROOT,
                "%s: %s, %d %% of %s; %s deleted in all%s%s%s",
                run.name(),
                run.state(),
                percent,
                PlanText.records(run.records()),
                PlanText.number(run.deleted()),
                run.failed() == 0 ? "" : ", " + PlanText.number(run.failed()) + " failed",
                run.skipped() == 0 ? "" : ", " + PlanText.number(run.skipped()) + " skipped",
                left(run, Instant.now()));
    }

    /** What came of a run, or how it stands, with those that it left. */
    public static String of(BulkRun run, List<FailedRecord> left) {
        List<String> lines = new ArrayList<>();
        lines.add("Bulk run " + run.runId() + " of " + run.selection() + ": " + run.state());
        lines.add("  by " + run.by().actor()
                + run.by().reason().map(why -> ", because: " + why).orElse(""));
        lines.add("  " + PlanText.number(run.done()) + " of " + PlanText.records(run.records()) + " of " + run.table()
                + " deleted, " + PlanText.number(run.skipped()) + " skipped, " + PlanText.number(run.failed())
                + " failed, " + PlanText.number(run.open()) + " open");
        lines.add("  " + PlanText.records(run.deleted()) + " deleted in all");
        lines.add("  began " + second(run.startedAt())
                + run.endedAt()
                        .map(end -> ", ended " + second(end) + rate(run, end))
                        .orElseGet(() -> left(run, Instant.now())));
        if (!idle(run, Instant.now()).isEmpty()) {
            lines.add(
                    "  to go on: vacancy runs resume " + run.runId().toString().substring(0, 8));
        }
        left.forEach(record -> lines.add(
                "  " + (record.failed() ? "failed" : "skipped") + " " + record.key() + ": " + record.reason()));
        return String.join(System.lineSeparator(), lines);
    }

    /** A table of runs. */
    public static String of(List<BulkRun> runs) {
        if (runs.isEmpty()) {
            return "There are no bulk runs.";
        }
        List<String> lines = new ArrayList<>();
        lines.add(row("run", "name", "state", "selected", "done", "skipped", "failed", "began"));
        for (BulkRun run : runs) {
            lines.add(row(
                    run.runId().toString().substring(0, 8),
                    run.name().length() > LONGEST_NAME ? run.name().substring(0, LONGEST_NAME - 1) + "…" : run.name(),
                    run.state().toString(),
                    PlanText.number(run.records()),
                    PlanText.number(run.done()),
                    PlanText.number(run.skipped()),
                    PlanText.number(run.failed()),
                    second(run.startedAt()) + idle(run, Instant.now())));
        }
        return String.join(System.lineSeparator(), lines);
    }

    /** Whoever worked on it is gone, or waits. */
    private static String idle(BulkRun run, Instant now) {
        return run.idle(now).compareTo(LONGEST_SILENCE) < 0
                ? ""
                : ", nobody has worked on it for " + words(run.idle(now));
    }

    /** At the pace since it began, which counts the time that nobody worked on it as well. */
    private static String left(BulkRun run, Instant now) {
        String idle = idle(run, now);
        if (!idle.isEmpty()) {
            return idle;
        }
        double seconds = Math.max(1, Duration.between(run.startedAt(), now).toMillis()) / 1_000.0;
        long dealtWith = run.records() - run.open();
        if (run.state() != BulkState.RUNNING || dealtWith == 0) {
            return "";
        }
        return String.format(Locale.ROOT, ", %,.0f records a second", run.deleted() / seconds) + ", about "
                + words(Duration.ofSeconds(Math.round(run.open() * seconds / dealtWith))) + " left";
    }

    private static String words(Duration time) {
        if (time.toMinutes() == 0) {
            return time.toSeconds() + " s";
        }
        return time.toHours() == 0 ? time.toMinutes() + " min" : time.toHours() + " h " + time.toMinutesPart() + " min";
    }

    private static String row(Object... cells) {
        return String.format(Locale.ROOT, "%-8s  %-34s  %-9s  %9s  %9s  %7s  %6s  %s", cells)
                .stripTrailing();
    }

    private static String second(Instant time) {
        return time.truncatedTo(ChronoUnit.SECONDS).toString();
    }

    private static String rate(BulkRun run, Instant end) {
        double seconds = Math.max(1, Duration.between(run.startedAt(), end).toMillis()) / 1_000.0;
        return String.format(Locale.ROOT, ", %.1f s, %,.0f records a second", seconds, run.deleted() / seconds);
    }
}
