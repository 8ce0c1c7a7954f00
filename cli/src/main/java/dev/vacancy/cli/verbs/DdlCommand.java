package dev.vacancy.cli.verbs;

import dev.vacancy.cli.asking.Asking;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.rule.Ddl;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.ITypeConverter;
import picocli.CommandLine.Option;
import picocli.CommandLine.TypeConversionException;

/** Prints or makes what the database still needs for the rules. */
@Command(
        name = "ddl",
        mixinStandardHelpOptions = true,
        description =
                "Print what the database still needs for the rules: tables of the audit trail, columns that mark and"
                        + " stamp, indexes, views of the active records; and what tables of an earlier version lack.")
public final class DdlCommand extends DatabaseCommand {
    @Option(
            names = "--for",
            paramLabel = "WHAT",
            split = ",",
            converter = PartOfWord.class,
            description = "What else is to be kept in the database: bulk-runs, approvals, schedule, retirements.")
    private List<Ddl.Part> parts = List.of();

    @Option(names = "--apply", description = "Run the statements, after a question.")
    private boolean apply;

    @Option(names = "--yes", description = "Answer the question with yes.")
    private boolean yes;

    /** Reads a part as people write it. */
    static final class PartOfWord implements ITypeConverter<Ddl.Part> {
        @Override
        public Ddl.Part convert(String word) {
            return Arrays.stream(Ddl.Part.values())
                    .filter(part -> part.name().replace('_', '-').equalsIgnoreCase(word))
                    .findFirst()
                    .orElseThrow(() -> new TypeConversionException(
                            "'" + word + "' is none of bulk-runs, approvals, schedule, retirements"));
        }
    }

    public DdlCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        Ddl ddl = session.ddl(parts);
        if (!json()) {
            ddl.statements().forEach(statement -> print(statement + ";"));
            ddl.remarks().forEach(remark -> print("-- " + remark));
            if (!ddl.isNeeded()) {
                say("Nothing is missing.");
            }
        }
        boolean done = false;
        if (apply && ddl.isNeeded()) {
            String question = ddl.statements().isEmpty()
                    ? "Take over what the trail of the earlier version holds?"
                    : "Run " + ddl.statements().size() + " statements on the database?";
            if (!new Asking(surroundings(), yes).isYes(question)) {
                say("Not approved. Nothing was changed.");
                return end(ddl, "not approved", ExitStatus.NOT_APPROVED);
            }
            ddl.apply();
            say("Done.");
            done = true;
        }
        return end(ddl, done ? "done" : ddl.isNeeded() ? "shown" : "nothing missing", ExitStatus.DONE);
    }

    private int end(Ddl ddl, String status, int exitStatus) {
        if (json()) {
            Map<String, Object> view = new LinkedHashMap<>();
            view.put("statements", ddl.statements());
            view.put("remarks", ddl.remarks());
            view.put("status", status);
            print(JsonText.write(view));
        }
        return exitStatus;
    }
}
