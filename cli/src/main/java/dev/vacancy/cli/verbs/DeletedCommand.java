package dev.vacancy.cli.verbs;

import dev.vacancy.By;
import dev.vacancy.JsonForm;
import dev.vacancy.Sample;
import dev.vacancy.catalog.Table;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.terminal.Columns;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.history.DeletedRecord;
import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Lists soft-deleted records. */
@Command(
        name = "deleted",
        mixinStandardHelpOptions = true,
        description =
                "List the records of a table that are deleted and still there: who deleted them, when, why, and how"
                        + " many days they are kept.")
public final class DeletedCommand extends DatabaseCommand {
    private static final List<String> HEADER = List.of("record", "since", "by", "days left", "because", "run");

    @Parameters(paramLabel = "TABLE", description = "A table with a marker.")
    private String table;

    @Option(
            names = "--limit",
            paramLabel = "N",
            defaultValue = "100",
            description = "How many at most; 100 if left out.")
    private int limit;

    public DeletedCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        Table asked = session.vacancy().catalog().table(table);
        List<DeletedRecord> deleted = session.vacancy().history().deleted(asked.name(), limit);
        if (json()) {
            print(JsonText.write(deleted.stream().map(JsonForm::of).toList()));
        } else if (deleted.isEmpty()) {
            print("No record of " + asked + " is deleted.");
        } else {
            List<List<String>> rows = new ArrayList<>();
            rows.add(HEADER);
            deleted.forEach(record -> rows.add(row(record)));
            print(Columns.of(rows));
        }
        return ExitStatus.DONE;
    }

    private static List<String> row(DeletedRecord deleted) {
        return List.of(
                deleted.record().table() + " " + Sample.of(deleted.record()),
                deleted.at().map(at -> at.toString().substring(0, 10)).orElse("-"),
                deleted.by().map(By::actor).orElse("-"),
                deleted.daysLeft().map(String::valueOf).orElse("-"),
                deleted.by().flatMap(By::reason).orElse("-"),
                deleted.run().map(run -> run.toString().substring(0, 8)).orElse("-"));
    }
}
