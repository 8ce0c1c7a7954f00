package dev.vacancy.cli.verbs;

import dev.vacancy.JsonForm;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.catalog.Table;
import dev.vacancy.cli.asking.BulkWork;
import dev.vacancy.cli.asking.ChunkOptions;
import dev.vacancy.cli.asking.DeletedFile;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.showing.BulkText;
import dev.vacancy.cli.showing.ScheduleText;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.rule.Ddl;
import dev.vacancy.schedule.ScheduleListener;
import dev.vacancy.schedule.ScheduledRuns;
import dev.vacancy.schedule.ScheduledWorker;
import dev.vacancy.schedule.Upcoming;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Looks at bulk runs, and lets them go on or stop. */
@Command(
        name = "runs",
        mixinStandardHelpOptions = true,
        description = "List bulk runs; show, pause, resume or cancel one; or work on whatever is running.",
        footer = {
            "",
            "States: running, paused, stopped (at a failure), cancelled, done.",
            "Exit status: 6 if a run that was worked on left records, or isn't done."
        })
public final class RunsCommand extends DatabaseCommand {
    private static final int LEFT_SHOWN = 20;
    private static final String LAST = "last";
    private static final long LOOKING_EVERY_MILLIS = 500;

    /** What to do with runs. */
    enum Action {
        /** All of them, the newest first. */
        LIST,
        /** One of them, with the records that it left. */
        SHOW,
        /** Takes no further chunk. */
        PAUSE,
        /** Goes on in the foreground until it is done. */
        RESUME,
        /** Ends it. */
        CANCEL,
        /** Works on one that is running, or on all, beside other workers. */
        WORK
    }

    @Parameters(
            index = "0",
            arity = "0..1",
            paramLabel = "ACTION",
            defaultValue = "list",
            description = "list, show, pause, resume, cancel or work; list if left out.")
    private Action action;

    @Parameters(
            index = "1",
            arity = "0..1",
            paramLabel = "RUN",
            description =
                    "The run's id, the beginning of it, or last. For work it may be left out: then all that are running.")
    private String run;

    @Option(
            names = "--stay",
            description =
                    "With work: don't end when nothing is left, but wait for runs that others start and for scheduled"
                            + " deletions.")
    private boolean stay;

    @Mixin
    private ChunkOptions chunks;

    private volatile boolean ending;

    public RunsCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        chunks.validate();
        BulkRuns runs = session.vacancy().bulk();
        return switch (action) {
            case LIST -> list(runs, session.scheduled());
            case SHOW -> show(runs, runs.run(id(runs)));
            case PAUSE -> show(runs, runs.pause(id(runs)));
            case CANCEL -> cancel(runs, session.scheduled());
            case RESUME -> work(session, runs, runs.resume(id(runs)).runId());
            case WORK -> run == null ? workOnWhatIsThere(session, runs) : work(session, runs, id(runs));
        };
    }

    private int list(BulkRuns runs, Optional<ScheduledRuns> scheduled) {
        List<BulkRun> all = runs.list();
        List<Upcoming> upcoming = scheduled.map(ScheduledRuns::list).orElse(List.of());
        if (json()) {
            print(JsonText.write(Stream.concat(
                            all.stream().map(JsonForm::of), upcoming.stream().map(ScheduleText::view))
                    .toList()));
            return ExitStatus.DONE;
        }
        print(BulkText.of(all));
        if (!upcoming.isEmpty()) {
            print("");
            print(ScheduleText.of(upcoming));
        }
        return ExitStatus.DONE;
    }

    private int cancel(BulkRuns runs, Optional<ScheduledRuns> all) {
        Optional<ScheduledRuns> scheduled = all.filter(upcoming ->
                upcoming.list().stream().anyMatch(one -> one.deletion().name().equals(run)));
        if (scheduled.isEmpty()) {
            return show(runs, runs.cancel(id(runs)));
        }
        scheduled.get().cancel(run);
        say("The scheduled deletion '" + run + "' is off the list.");
        return ExitStatus.DONE;
    }

    private int workOnWhatIsThere(Session session, BulkRuns runs) {
        Optional<ScheduledRuns> scheduled = session.scheduled();
        if (stay) {
            session.makeTables(Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE);
            say("Working on what is there and what comes; Ctrl-C ends it.");
        }
        if (!stay && scheduled.filter(RunsCommand::isAnyDue).isEmpty()) {
            return workOnAll(session, runs);
        }
        ScheduleListener listener = new ScheduleListener() {
            @Override
            public void refused(String name, RuntimeException refusal) {
                say("'" + name + "' was refused: " + refusal.getMessage());
            }

            @Override
            public void leftOut(String name, String reason) {
                say("'" + name + "' was left out, as " + reason + ".");
            }
        };
        Thread hook = new Thread(() -> ending = true);
        Runtime.getRuntime().addShutdownHook(hook);
        int status = ExitStatus.DONE;
        try (ScheduledWorker starting =
                scheduled.map(due -> due.worker(chunks.options(), listener)).orElse(null)) {
            if (starting != null) {
                starting.startStarting();
            }
            boolean goesOn = true;
            while (goesOn) {
                status = Math.max(status, workOnAll(session, runs));
                goesOn = stay || scheduled.filter(RunsCommand::isAnyDue).isPresent();
                rest();
            }
            status = Math.max(status, workOnAll(session, runs));
        } catch (VacancyException failure) {
            // An embedded database closes by itself when the virtual machine ends.
            if (!ending) {
                throw failure;
            }
        }
        if (!ending) {
            Runtime.getRuntime().removeShutdownHook(hook);
        }
        return status;
    }

    private static boolean isAnyDue(ScheduledRuns scheduled) {
        return scheduled.list().stream().anyMatch(upcoming -> !upcoming.due().isAfter(Instant.now()));
    }

    private static void rest() {
        try {
            TimeUnit.MILLISECONDS.sleep(LOOKING_EVERY_MILLIS);
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
        }
    }

    private int workOnAll(Session session, BulkRuns runs) {
        int status = ExitStatus.DONE;
        for (BulkRun open : runs.list(BulkState.RUNNING)) {
            status = Math.max(status, work(session, runs, open.runId()));
        }
        return status;
    }

    private int work(Session session, BulkRuns runs, UUID id) {
        BulkOptions options = chunks.options();
        BulkWork work = new BulkWork(runs, options, surroundings(), command("runs resume " + id));
        BulkRun end =
                work.on(id, chunks.deleted().map(file -> DeletedFile.open(file, table(session, runs.run(id)), true)));
        chunks.failures().ifPresent(file -> work.writeLeft(id, file));
        show(runs, end);
        return BulkWork.exitStatus(end);
    }

    private static Table table(Session session, BulkRun run) {
        return session.vacancy().catalog().table(run.table());
    }

    private int show(BulkRuns runs, BulkRun shown) {
        print(
                json()
                        ? JsonText.write(JsonForm.of(shown))
                        : BulkText.of(shown, runs.failures(shown.runId(), LEFT_SHOWN)));
        return ExitStatus.DONE;
    }

    private UUID id(BulkRuns runs) {
        if (run == null) {
            throw ToolException.wrongUsage(
                    "Nothing says which run to " + action.name().toLowerCase(Locale.ROOT) + ".",
                    "Give its id, the beginning of it, or last; 'runs' lists them.");
        }
        if (run.equalsIgnoreCase(LAST)) {
            return runs.list().stream()
                    .findFirst()
                    .map(BulkRun::runId)
                    .orElseThrow(() -> ToolException.wrongUsage(
                            "There are no bulk runs, and so there is no last one.", "'delete --chunk' makes one."));
        }
        List<UUID> found = runs.list().stream()
                .map(BulkRun::runId)
                .filter(id -> id.toString().startsWith(run.toLowerCase(Locale.ROOT)))
                .toList();
        if (found.size() != 1) {
            throw ToolException.wrongUsage(
                    (found.isEmpty() ? "No bulk run begins" : found.size() + " bulk runs begin") + " with '" + run
                            + "'.",
                    "'runs' lists them.");
        }
        return found.get(0);
    }
}
