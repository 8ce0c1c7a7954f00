package dev.vacancy.cli;

import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.bulk.BulkState;
import java.util.List;
import java.util.Locale;
import java.util.UUID;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
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
final class RunsCommand extends DatabaseCommand {
    private static final int LEFT_SHOWN = 20;

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
                    "The run's id, or the beginning of it. For work it may be left out: then all that are running.")
    private String run;

    @Mixin
    private ChunkOptions chunks;

    RunsCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    int on(Session session) {
        BulkRuns runs = session.vacancy().bulk();
        return switch (action) {
            case LIST -> {
                List<BulkRun> all = runs.list();
                print(json() ? JsonText.write(all.stream().map(BulkRun::view).toList()) : BulkText.of(all));
                yield ExitStatus.DONE;
            }
            case SHOW -> show(runs, runs.run(id(runs)));
            case PAUSE -> show(runs, runs.pause(id(runs)));
            case CANCEL -> show(runs, runs.cancel(id(runs)));
            case RESUME -> work(runs, runs.resume(id(runs)).runId());
            case WORK -> run == null ? workOnAll(runs) : work(runs, id(runs));
        };
    }

    private int workOnAll(BulkRuns runs) {
        int status = ExitStatus.DONE;
        for (BulkRun open : runs.list()) {
            if (open.state() == BulkState.RUNNING) {
                status = Math.max(status, work(runs, open.runId()));
            }
        }
        return status;
    }

    private int work(BulkRuns runs, UUID id) {
        BulkOptions options = chunks.options();
        BulkWork work = new BulkWork(runs, options, surroundings(), command("runs resume " + id));
        BulkRun end = work.on(id);
        chunks.failures().ifPresent(file -> work.writeLeft(id, file));
        show(runs, end);
        return BulkWork.exitStatus(end);
    }

    private int show(BulkRuns runs, BulkRun shown) {
        print(json() ? JsonText.write(shown.view()) : BulkText.of(shown, runs.left(shown.runId(), LEFT_SHOWN)));
        return ExitStatus.DONE;
    }

    private UUID id(BulkRuns runs) {
        if (run == null) {
            throw ToolException.wrongUsage(
                    "Nothing says which run to " + action.name().toLowerCase(Locale.ROOT) + ".",
                    "Give its id, or the beginning of it; 'runs' lists them.");
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
