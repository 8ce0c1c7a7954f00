package dev.vacancy.cli.verbs;

import dev.vacancy.JsonForm;
import dev.vacancy.cli.asking.ByOptions;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.selecting.RunIds;
import dev.vacancy.cli.showing.PlanText;
import dev.vacancy.cli.showing.TrailExport;
import dev.vacancy.cli.terminal.Columns;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.PlainText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.history.History;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.history.TrailRun;
import dev.vacancy.history.Verification;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Asks the audit trail. */
@Command(
        name = "history",
        mixinStandardHelpOptions = true,
        description = "Tell what happened: who deleted what, when, why, and what it was.",
        footer = {"", "Exit status of verify: 0 if all is as it was written, 1 if not."})
public final class HistoryCommand extends DatabaseCommand {
    private static final int ENTRIES_SHOWN = 10;

    /** What to do with the trail. */
    enum Action {
        /** List what happened. */
        LIST,
        /** Hold the trail against its own digests. */
        VERIFY,
        /** Tell where the chain ends. */
        HEAD,
        /** Write what happened, the oldest first, a line each. */
        EXPORT,
        /** Remove the oldest runs. */
        PRUNE
    }

    @Parameters(
            paramLabel = "ACTION",
            arity = "0..1",
            defaultValue = "list",
            description = "list, verify, head, export or prune; list if left out.")
    private Action action;

    @Option(names = "--table", paramLabel = "TABLE", description = "Only records of this table.")
    private String table;

    @Option(names = "--key", paramLabel = "KEY", description = "Only the record of --table with this key.")
    private String key;

    @Option(names = "--run", paramLabel = "RUN", description = "Only this run.")
    private String run;

    @Option(names = "--actor", paramLabel = "NAME", description = "Only what this person or program wanted.")
    private String actor;

    @Option(names = "--from", paramLabel = "TIME", description = "Not before this day or moment (ISO 8601).")
    private String from;

    @Option(names = "--until", paramLabel = "TIME", description = "Before this day or moment; with prune, what goes.")
    private String until;

    @Option(
            names = "--limit",
            paramLabel = "N",
            defaultValue = "1000",
            description = "How many at most; 1,000 if left out.")
    private int limit;

    @Option(
            names = "--format",
            paramLabel = "FORM",
            defaultValue = "jsonl",
            description = "With export: jsonl, csv or cloudevents; jsonl if left out.")
    private TrailExport.Form form;

    @Option(
            names = "--kept",
            paramLabel = "FILE",
            description = "With verify: a head that was kept, as 'history head' prints it.")
    private Path kept;

    @Mixin
    private ByOptions by;

    public HistoryCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        History history = session.vacancy().history();
        return switch (action) {
            case LIST -> list(history);
            case VERIFY -> verify(history);
            case HEAD -> head(history);
            case EXPORT -> export(history);
            case PRUNE -> prune(history);
        };
    }

    private HistoryQuery query(History history) {
        if (key != null && table == null) {
            throw ToolException.wrongUsage("--key names a record of no table.", "Add --table TABLE.");
        }
        HistoryQuery query = HistoryQuery.all().atMost(limit);
        query = table == null ? query : query.ofTable(table);
        query = key == null ? query : query.ofRecord(table, key);
        query = actor == null ? query : query.by(actor);
        if (run != null) {
            List<TrailRun> runs = history.runs(HistoryQuery.all().atMost(Integer.MAX_VALUE));
            query = query.ofRun(RunIds.find(run, runs, "a run"));
        }
        if (from != null || until != null) {
            query = query.between(
                    from == null ? Instant.EPOCH : moment(from),
                    until == null ? Instant.parse("9999-12-31T00:00:00Z") : moment(until));
        }
        return query;
    }

    private static Instant moment(String given) {
        try {
            return given.length() == 10
                    ? LocalDate.parse(given).atStartOfDay().toInstant(ZoneOffset.UTC)
                    : Instant.parse(given);
        } catch (DateTimeParseException wrong) {
            throw ToolException.wrongUsage(
                    "'" + given + "' is neither a day nor a moment.", "Write 2026-03-01, or 2026-03-01T02:00:00Z.");
        }
    }

    private int list(History history) {
        HistoryQuery query = query(history);
        if (json()) {
            print(JsonText.write(
                    history.entries(query).stream().map(JsonForm::of).toList()));
            return ExitStatus.DONE;
        }
        if (table != null || run != null) {
            entries(history.entries(query));
        } else {
            runs(history, query);
        }
        return ExitStatus.DONE;
    }

    private void runs(History history, HistoryQuery query) {
        List<TrailRun> runs = history.runs(query);
        if (runs.isEmpty()) {
            print("Nothing has happened yet.");
            return;
        }
        List<List<String>> rows = new ArrayList<>();
        rows.add(List.of("at", "what", "of", "by", "records", "because", "run"));
        for (TrailRun each : runs) {
            rows.add(List.of(
                    each.at().toString().substring(0, 19) + "Z",
                    each.kind(),
                    each.which(),
                    each.who(),
                    PlanText.number(PlanText.sum(each.counts())),
                    each.by().reason().orElse("-"),
                    each.runId().toString().substring(0, 8)));
        }
        print(Columns.of(rows));
    }

    private static String before(String action, Map<String, Object> form) {
        if (form.get("before") instanceof Map<?, ?> before) {
            return PlainText.of(before, "    ");
        }
        return switch (action) {
            case "erased" -> "    what was told of it until then";
            case "masked" -> "    a text in what is told of it";
            default -> "    its content was erased";
        };
    }

    private void entries(List<TrailEntry> entries) {
        if (entries.isEmpty()) {
            print("No matching history.");
            return;
        }
        boolean whole = entries.size() <= ENTRIES_SHOWN;
        for (TrailEntry entry : entries) {
            print(entry.at().toString().substring(0, 19) + "Z  " + entry.action() + "  " + entry.table() + " "
                    + entry.key()
                    + "  by " + entry.who()
                    + entry.by().reason().map(why -> ", because: " + why).orElse("") + "  (run "
                    + entry.run().toString().substring(0, 8) + ")");
            if (whole) {
                Map<String, Object> form = JsonForm.of(entry);
                print(before(entry.action(), form));
                if (form.get("after") instanceof Map<?, ?> after) {
                    print("  then set to" + System.lineSeparator() + PlainText.of(after, "    "));
                }
            }
        }
    }

    private int verify(History history) {
        Verification found = history.verify(Optional.ofNullable(kept).map(HistoryCommand::head));
        if (json()) {
            print(JsonText.write(found));
        } else {
            found.faults().forEach(this::print);
            print(String.format(
                    Locale.ROOT,
                    "%s: %,d %s, %,d %s, %,d of them erased; the chain ends at %d %s",
                    found.isIntact() ? "Intact" : "Not intact",
                    found.runs(),
                    found.runs() == 1 ? "run" : "runs",
                    found.entries(),
                    found.entries() == 1 ? "entry" : "entries",
                    found.erased(),
                    found.head().place(),
                    found.head().digest()));
        }
        return found.isIntact() ? ExitStatus.DONE : ExitStatus.FAILED;
    }

    private static Verification.Head head(Path file) {
        try {
            String[] words = Files.readString(file).strip().split("\\s+", -1);
            return new Verification.Head(Long.parseLong(words[0]), words[1]);
        } catch (IOException | NumberFormatException | ArrayIndexOutOfBoundsException unreadable) {
            throw ToolException.wrongUsage(
                    "'" + file + "' holds no head of an audit trail.",
                    "Give a file that 'history head' was written to: a place and a digest.");
        }
    }

    private int head(History history) {
        Verification.Head head = history.verify(Optional.empty()).head();
        print(json() ? JsonText.write(head) : head.place() + " " + head.digest());
        return ExitStatus.DONE;
    }

    private int export(History history) {
        new TrailExport(form, surroundings().out()).write(history, query(history));
        return ExitStatus.DONE;
    }

    private int prune(History history) {
        if (until == null) {
            throw ToolException.wrongUsage(
                    "Nothing says how old the runs are that go.", "Say it: history prune --until 2020-01-01.");
        }
        long gone = history.prune(moment(until), by.by());
        print(json() ? JsonText.write(Map.of("runs", gone)) : pruned(gone));
        return gone == 0 ? ExitStatus.NOTHING_MATCHED : ExitStatus.DONE;
    }

    private static String pruned(long gone) {
        String runs = PlanText.number(gone) + (gone == 1 ? " run is" : " runs are") + " out of the trail.";
        return gone == 0 ? runs : runs + " What was deleted by them can't be restored any more, soft-deleted or not.";
    }
}
