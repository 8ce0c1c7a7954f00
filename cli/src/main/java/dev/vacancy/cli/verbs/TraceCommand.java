package dev.vacancy.cli.verbs;

import dev.vacancy.Approval;
import dev.vacancy.JsonForm;
import dev.vacancy.Question;
import dev.vacancy.Vacancy;
import dev.vacancy.catalog.Table;
import dev.vacancy.cli.asking.Asking;
import dev.vacancy.cli.asking.ByOptions;
import dev.vacancy.cli.asking.ColleagueOption;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.selecting.KeyText;
import dev.vacancy.cli.showing.PictureOption;
import dev.vacancy.cli.showing.TraceText;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.picture.TracePicture;
import dev.vacancy.trace.Trace;
import dev.vacancy.trace.TraceOutcome;
import dev.vacancy.trace.TracePlan;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.json.JsonMapper;

/** Shows all that is known of a person, hands it out, erases it. */
@Command(
        name = "trace",
        mixinStandardHelpOptions = true,
        description =
                "Show all that the database knows of one person: records by links to any depth, the audit trail, bulk runs,"
                        + " follow-ups, and where texts stand that they are known by. Hand out a copy of it, or erase it.",
        footer =
                "%nExit status: 0 if something is known, or was erased, 3 if records forbid to erase it, 5 if nothing is known.")
public final class TraceCommand extends DatabaseCommand {
    private static final JsonMapper JSON = JsonMapper.builder().build();
    private static final FileAttribute<?> OWNER_ONLY =
            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------"));

    @Parameters(paramLabel = "TABLE", description = "The table of the person's record.")
    private String table;

    @Option(
            names = "--key",
            paramLabel = "KEY",
            required = true,
            description = "The key of the record. A composite key is column=value,column=value.")
    private String key;

    @Option(
            names = "--export",
            paramLabel = "FILE.jsonl",
            description = "Write a copy of it to a new file, a JSON object on each line.")
    private Path export;

    @Option(names = "--erase", description = "Ask whether to erase all of it, in one go, and do so.")
    private boolean erase;

    @Option(names = "--yes", description = "Answer the question with yes.")
    private boolean yes;

    @Mixin
    private PictureOption picture;

    @Mixin
    private ColleagueOption colleague;

    @Mixin
    private ByOptions by;

    public TraceCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        Vacancy vacancy = session.vacancy();
        Trace trace = vacancy.trace(table, key(vacancy));
        picture.draw(() -> TracePicture.of(trace));
        if (!json()) {
            print(new TraceText(paint()).of(trace));
        }
        if (trace.isEmpty()) {
            say("Nothing is known of it" + (erase ? ". Nothing was erased." : "."));
            return end(trace, "nothing matched", Optional.empty(), ExitStatus.NOTHING_MATCHED);
        }
        if (export != null) {
            say("Wrote " + count(export(vacancy, trace)) + " to " + export + ".");
        }
        return erase ? erase(vacancy, trace) : end(trace, "found", Optional.empty(), ExitStatus.DONE);
    }

    private Object key(Vacancy vacancy) {
        Table asked = vacancy.catalog().table(table);
        return asked.identity().size() > 1 ? KeyText.composite(asked, key) : key;
    }

    private int erase(Vacancy vacancy, Trace trace) {
        TracePlan plan = vacancy.plan(trace, by.by());
        if (plan.isBlocked()) {
            obstacles(plan).forEach(this::say);
            say("Blocked. Nothing was erased.");
            return end(trace, "blocked", Optional.empty(), ExitStatus.BLOCKED);
        }
        Question question = Question.about(plan);
        Optional<Approval> approval = new Asking(surroundings(), yes)
                .ask(question.text(), question.typed(), question::answer)
                .map(colleague::with);
        if (approval.isEmpty()) {
            say("Not approved. Nothing was erased.");
            return end(trace, "not approved", Optional.empty(), ExitStatus.NOT_APPROVED);
        }
        TraceOutcome outcome = vacancy.eraseTrace(approval.get());
        if (!json()) {
            print(new TraceText(paint()).of(outcome));
        }
        return end(trace, "erased", Optional.of(outcome), ExitStatus.DONE);
    }

    /** What the tree doesn't tell. */
    private static List<String> obstacles(TracePlan plan) {
        List<String> obstacles = new ArrayList<>();
        plan.holds()
                .forEach(hold -> obstacles.add("Held by " + hold.by().actor() + ": "
                        + hold.by().reason().orElse("") + " (" + hold.table() + ", hold " + hold.runId() + ")"));
        plan.openBulkRuns()
                .forEach(run -> obstacles.add("The bulk run " + run + " has something of it and hasn't ended."));
        return obstacles;
    }

    /** A file that is there may be somebody else's copy; a new one is for nobody else to read, where the system knows of that. */
    private long export(Vacancy vacancy, Trace trace) {
        try {
            boolean posix = export.getFileSystem().supportedFileAttributeViews().contains("posix");
            Files.createFile(export, posix ? new FileAttribute<?>[] {OWNER_ONLY} : new FileAttribute<?>[0]);
        } catch (FileAlreadyExistsException there) {
            throw ToolException.wrongUsage("There is a file '" + export + "' already.", "Name another one.");
        } catch (IOException failure) {
            throw unwritable(failure);
        }
        return write(vacancy, trace);
    }

    private long write(Vacancy vacancy, Trace trace) {
        long[] count = {0};
        boolean whole = false;
        try (BufferedWriter out = Files.newBufferedWriter(export)) {
            vacancy.export(trace, record -> {
                try {
                    out.write(JSON.writeValueAsString(JsonForm.of(record)));
                    out.write('\n');
                    count[0]++;
                } catch (IOException failure) {
                    throw new UncheckedIOException(failure);
                }
            });
            whole = true;
        } catch (IOException | UncheckedIOException failure) {
            throw unwritable(failure);
        } finally {
            if (!whole) {
                removeHalf();
            }
        }
        return count[0];
    }

    /** Half a copy would pass for a whole one. */
    private void removeHalf() {
        try {
            Files.deleteIfExists(export);
        } catch (IOException kept) {
            say("Half a copy is left in '" + export + "': " + kept.getMessage());
        }
    }

    private ToolException unwritable(Exception failure) {
        return new ToolException(
                ExitStatus.FAILED,
                "The copy can't be written to '" + export + "'.",
                "Name a file in a folder that is there and may be written to.",
                failure);
    }

    private static String count(long lines) {
        return lines + (lines == 1 ? " line" : " lines");
    }

    private int end(Trace trace, String status, Optional<TraceOutcome> outcome, int exitStatus) {
        if (json()) {
            Map<String, Object> view = new LinkedHashMap<>();
            view.put("status", status);
            view.put("trace", JsonForm.of(trace));
            view.put("outcome", outcome.map(JsonForm::of).orElse(null));
            print(JsonText.write(view));
        }
        return exitStatus;
    }
}
