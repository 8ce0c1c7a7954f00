package dev.vacancy.cli;

import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.demo.DemoCommand;
import dev.vacancy.cli.terminal.PlainText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.cli.terminal.Utf8Text;
import dev.vacancy.cli.verbs.CheckCommand;
import dev.vacancy.cli.verbs.CompletionCommand;
import dev.vacancy.cli.verbs.DdlCommand;
import dev.vacancy.cli.verbs.DeleteCommand;
import dev.vacancy.cli.verbs.DeletedCommand;
import dev.vacancy.cli.verbs.EmptyCommand;
import dev.vacancy.cli.verbs.EraseCommand;
import dev.vacancy.cli.verbs.FollowUpsCommand;
import dev.vacancy.cli.verbs.HistoryCommand;
import dev.vacancy.cli.verbs.HoldCommand;
import dev.vacancy.cli.verbs.MapCommand;
import dev.vacancy.cli.verbs.MaskCommand;
import dev.vacancy.cli.verbs.PreviewCommand;
import dev.vacancy.cli.verbs.PurgeCommand;
import dev.vacancy.cli.verbs.RestoreCommand;
import dev.vacancy.cli.verbs.RetireCommand;
import dev.vacancy.cli.verbs.RunsCommand;
import dev.vacancy.cli.verbs.TraceCommand;
import dev.vacancy.cli.verbs.TypesCommand;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import picocli.CommandLine;
import picocli.CommandLine.HelpCommand;

/** Starts the tool. */
public final class Main {
    private static final List<String> VERBS = List.of(
            "demo",
            "map",
            "check",
            "preview",
            "delete",
            "empty",
            "runs",
            "follow-ups",
            "deleted",
            "restore",
            "history",
            "purge",
            "hold",
            "erase",
            "mask",
            "trace",
            "retire",
            "ddl",
            "types",
            "completion");

    private Main() {}

    /**
     * Runs one command and ends the process with its exit status.
     *
     * @param arguments verb, options and parameters
     */
    public static void main(String[] arguments) {
        // From Java 22 on there is a console object without a terminal too, unless this asks for the former behaviour.
        System.setProperty("jdk.console", "java.base");
        System.exit(run(Surroundings.ofThisProcess(), arguments));
    }

    /**
     * Runs one command.
     *
     * @return its exit status
     */
    public static int run(Surroundings surroundings, String... arguments) {
        try {
            Utf8Text.requireWhole(arguments);
        } catch (ToolException garbled) {
            surroundings.err().println(PlainText.painted(garbled.problem()));
            surroundings.err().println(PlainText.painted(garbled.remedy()));
            return garbled.exitStatus();
        }
        if (arguments.length == 0 || !VERBS.contains(arguments[0])) {
            return commandLine(surroundings).execute(arguments);
        }
        // To read what all verbs take is a third of a start, and the one that is called needn't know of the others.
        Object verb = verb(arguments[0], surroundings);
        String[] rest = Arrays.copyOfRange(arguments, 1, arguments.length);
        if (!(verb instanceof DatabaseCommand onDatabase)) {
            return alone(verb, arguments[0], surroundings).execute(rest);
        }
        onDatabase.hurry(List.of(rest));
        try {
            return alone(verb, arguments[0], surroundings).execute(rest);
        } finally {
            onDatabase.leave();
        }
    }

    private static CommandLine alone(Object verb, String name, Surroundings surroundings) {
        return configured(command(verb), surroundings).setCommandName(surroundings.toolName() + " " + name);
    }

    private static Object verb(String name, Surroundings surroundings) {
        return switch (name) {
            case "demo" -> new DemoCommand(surroundings, Main::run);
            case "map" -> new MapCommand(surroundings);
            case "check" -> new CheckCommand(surroundings);
            case "preview" -> new PreviewCommand(surroundings);
            case "delete" -> new DeleteCommand(surroundings);
            case "empty" -> new EmptyCommand(surroundings);
            case "runs" -> new RunsCommand(surroundings);
            case "follow-ups" -> new FollowUpsCommand(surroundings);
            case "deleted" -> new DeletedCommand(surroundings);
            case "restore" -> new RestoreCommand(surroundings);
            case "history" -> new HistoryCommand(surroundings);
            case "purge" -> new PurgeCommand(surroundings);
            case "hold" -> new HoldCommand(surroundings);
            case "erase" -> new EraseCommand(surroundings);
            case "mask" -> new MaskCommand(surroundings);
            case "trace" -> new TraceCommand(surroundings);
            case "retire" -> new RetireCommand(surroundings);
            case "ddl" -> new DdlCommand(surroundings);
            case "types" -> new TypesCommand(surroundings);
            case "completion" -> new CompletionCommand(surroundings, () -> commandLine(surroundings));
            default -> throw new IllegalArgumentException(name);
        };
    }

    /** All verbs. */
    public static CommandLine commandLine(Surroundings surroundings) {
        CommandLine line = new CommandLine(new VacancyCommand());
        line.addSubcommand(new HelpCommand());
        for (String name : VERBS) {
            line.addSubcommand(command(verb(name, surroundings)));
        }
        return configured(line, surroundings).setCommandName(surroundings.toolName());
    }

    private static CommandLine command(Object verb) {
        CommandLine command = new CommandLine(verb);
        command.getCommandSpec().version(VacancyCommand.VERSION);
        return command;
    }

    private static CommandLine configured(CommandLine line, Surroundings surroundings) {
        Failures failures = new Failures(surroundings);
        return line.registerConverter(Path.class, path -> surroundings.folder().resolve(path))
                .setOut(surroundings.outWriter())
                .setErr(surroundings.errWriter())
                .setUsageHelpAutoWidth(true)
                .setCaseInsensitiveEnumValuesAllowed(true)
                .setParameterExceptionHandler(failures)
                .setExecutionExceptionHandler(failures);
    }
}
