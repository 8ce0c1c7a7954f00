package dev.vacancy.cli.verbs;

import dev.vacancy.cli.asking.ByOptions;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.selecting.RunIds;
import dev.vacancy.cli.showing.PlanText;
import dev.vacancy.cli.terminal.Columns;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.history.History;
import dev.vacancy.history.TrailRun;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Keeps records from deletion until that is lifted. */
@Command(
        name = "hold",
        mixinStandardHelpOptions = true,
        description =
                "Hold records: nothing deletes, purges or erases them until the hold is lifted. Without a table, list"
                        + " the holds.")
public final class HoldCommand extends DatabaseCommand {
    @Parameters(paramLabel = "TABLE", arity = "0..1", description = "The table of the records.")
    private String table;

    @Option(names = "--where", paramLabel = "TEXT", description = "Which of them, as in delete.")
    private String where;

    @Option(
            names = "--standing",
            description =
                    "Hold whatever comes to meet it later, too, and only as long as it does; otherwise those that meet it now.")
    private boolean standing;

    @Option(names = "--lift", paramLabel = "HOLD", description = "Lift a hold: its id, or the beginning of it.")
    private String lift;

    @Mixin
    private ByOptions by;

    public HoldCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        History history = session.vacancy().history();
        if (lift != null) {
            UUID id = RunIds.find(lift, history.holds(), "a hold");
            history.lift(id, by.by());
            print(
                    json()
                            ? JsonText.write(Map.of("hold", id.toString(), "status", "lifted"))
                            : "Lifted hold " + id + ".");
            return ExitStatus.DONE;
        }
        if (table == null) {
            return list(history.holds());
        }
        if (where == null) {
            throw ToolException.wrongUsage(
                    "Nothing says which records of " + table + " to hold.", "Say it with --where TEXT.");
        }
        UUID id = standing ? history.standingHold(table, where, by.by()) : history.hold(table, where, by.by());
        print(json() ? JsonText.write(Map.of("hold", id.toString(), "status", "held")) : text(history, id));
        return ExitStatus.DONE;
    }

    private static String text(History history, UUID id) {
        TrailRun hold = history.holds().stream()
                .filter(run -> run.runId().equals(id))
                .findFirst()
                .orElseThrow();
        return "Held: " + records(hold) + System.lineSeparator() + "Hold " + id;
    }

    private static String records(TrailRun hold) {
        return hold.isStanding()
                ? "any " + hold.which()
                : PlanText.records(PlanText.sum(hold.counts())) + " of " + hold.which();
    }

    private int list(List<TrailRun> holds) {
        if (json()) {
            print(JsonText.write(holds.stream().map(HoldCommand::view).toList()));
        } else if (holds.isEmpty()) {
            print("Nothing is held.");
        } else {
            List<List<String>> rows = new ArrayList<>();
            rows.add(List.of("hold", "records", "by", "since", "because"));
            holds.forEach(hold -> rows.add(List.of(
                    hold.runId().toString().substring(0, 8),
                    records(hold),
                    hold.by().actor(),
                    hold.at().toString().substring(0, 10),
                    hold.by().reason().orElse("-"))));
            print(Columns.of(rows));
        }
        return ExitStatus.DONE;
    }

    private static Map<String, Object> view(TrailRun hold) {
        Map<String, Object> view = new LinkedHashMap<>();
        view.put("hold", hold.runId().toString());
        view.put("table", hold.table());
        view.put("where", hold.selection());
        view.put("standing", hold.isStanding());
        view.put("records", hold.isStanding() ? null : PlanText.sum(hold.counts()));
        view.put("actor", hold.by().actor());
        view.put("reason", hold.by().reason().orElse(null));
        view.put("at", hold.at().toString());
        return view;
    }
}
