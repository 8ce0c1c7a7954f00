package dev.vacancy.cli;

import dev.vacancy.criteria.Criteria;
import java.sql.DriverManager;
import java.text.DecimalFormatSymbols;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Function;
import picocli.CommandLine;
import picocli.CommandLine.HelpCommand;

/** Starts the tool. */
public final class Main {
    private static final Map<String, Function<Surroundings, Object>> COMMANDS = commands();

    private Main() {}

    /**
     * Runs one command and ends the process with its exit status.
     *
     * @param arguments verb, options and parameters
     */
    public static void main(String[] arguments) {
        // From Java 22 on there is a console object without a terminal too, unless this asks for the former behaviour.
        System.setProperty("jdk.console", "java.base");
        getReady();
        System.exit(commandLine(Surroundings.ofThisProcess(), arguments).execute(arguments));
    }

    /**
     * A command begins by loading what it will need: the drivers, the readers of a configuration and its conditions,
     * chance for ids, the words of the locale for numbers. That is done beside reading the arguments, which takes as long.
     */
    private static void getReady() {
        Thread ready = new Thread(
                () -> {
                    DriverManager.getDrivers();
                    YamlNode.parse("ready: true");
                    Criteria.parse("ready = true");
                    UUID.randomUUID();
                    DecimalFormatSymbols.getInstance();
                },
                "getting ready");
        ready.setDaemon(true);
        ready.start();
    }

    private static Map<String, Function<Surroundings, Object>> commands() {
        Map<String, Function<Surroundings, Object>> commands = new LinkedHashMap<>();
        commands.put("help", surroundings -> new HelpCommand());
        commands.put("demo", DemoCommand::new);
        commands.put("map", MapCommand::new);
        commands.put("check", CheckCommand::new);
        commands.put("preview", PreviewCommand::new);
        commands.put("delete", DeleteCommand::new);
        commands.put("empty", EmptyCommand::new);
        commands.put("runs", RunsCommand::new);
        commands.put("deleted", DeletedCommand::new);
        commands.put("restore", RestoreCommand::new);
        commands.put("history", HistoryCommand::new);
        commands.put("purge", PurgeCommand::new);
        commands.put("hold", HoldCommand::new);
        commands.put("erase", EraseCommand::new);
        commands.put("ddl", DdlCommand::new);
        commands.put("completion", CompletionCommand::new);
        return commands;
    }

    /** Of a command that is called by its name the others needn't be known; to read what all of them take is a third of a start. */
    static CommandLine commandLine(Surroundings surroundings, String... arguments) {
        CommandLine line = new CommandLine(new VacancyCommand());
        Optional<String> called = Arrays.stream(arguments).findFirst().filter(COMMANDS::containsKey);
        COMMANDS.forEach((name, command) -> {
            if (called.isEmpty() || called.get().equals(name)) {
                line.addSubcommand(command.apply(surroundings));
            }
        });
        line.setOut(surroundings.outWriter())
                .setErr(surroundings.errWriter())
                .setCommandName(surroundings.toolName())
                .setUsageHelpAutoWidth(true)
                .setCaseInsensitiveEnumValuesAllowed(true);
        Failures failures = new Failures(surroundings);
        return line.setParameterExceptionHandler(failures).setExecutionExceptionHandler(failures);
    }
}
