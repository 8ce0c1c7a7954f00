package dev.vacancy.cli.verbs;

import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.types.TableTypes;
import java.io.IOException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** Writes one Java class for each table. */
@Command(
        name = "types",
        mixinStandardHelpOptions = true,
        description = "Write one Java class for each table: its key, columns and links, for the compiler to check. Made"
                + " anew by the same command.")
public final class TypesCommand extends DatabaseCommand {
    @Option(
            names = "--package",
            required = true,
            paramLabel = "NAME",
            description = "The package of the classes, such as larkmoor.tables; one of their own.")
    private String packageName;

    @Option(
            names = "--out",
            required = true,
            paramLabel = "DIR",
            description = "The root of the sources, such as src/main/java; made if it isn't there.")
    private Path out;

    public TypesCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        TableTypes types = TableTypes.of(session.vacancy().catalog(), packageName);
        List<String> changed = write(types);
        if (json()) {
            Map<String, Object> view = new LinkedHashMap<>();
            view.put("package", packageName);
            view.put("classes", types.sources().keySet().stream().sorted().toList());
            view.put("changedFiles", changed);
            print(JsonText.write(view));
            return ExitStatus.DONE;
        }
        changed.forEach(this::print);
        say(
                changed.isEmpty()
                        ? "All " + types.sources().size() + " classes are as they should be."
                        : changed.size() + " of " + types.sources().size() + " classes written or removed.");
        return ExitStatus.DONE;
    }

    /** From the current folder, where it is below it. */
    private String shown(Path file) {
        Path whole = file.toAbsolutePath();
        Path here = surroundings().folder().toAbsolutePath();
        return (whole.startsWith(here) ? here.relativize(whole) : whole).toString();
    }

    private List<String> write(TableTypes types) {
        try {
            return types.write(out).stream().map(this::shown).toList();
        } catch (IOException failure) {
            throw new ToolException(
                    ExitStatus.FAILED,
                    "The classes can't be written to '" + out + "'.",
                    "Name a folder that may be written to.",
                    failure);
        }
    }
}
