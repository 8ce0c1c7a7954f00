package dev.vacancy.cli;

import dev.vacancy.criteria.Criteria;
import java.sql.DriverManager;
import java.text.DecimalFormatSymbols;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.UUID;
import java.util.function.Function;
import picocli.CommandLine;
import picocli.CommandLine.HelpCommand;

/** Starts the tool. */
public final class Main {
    private static final Map<String, Function<Surroundings, Object>> VERBS = verbs();

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
        System.exit(run(Surroundings.ofThisProcess(), arguments));
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

    private static Map<String, Function<Surroundings, Object>> verbs() {
        Map<String, Function<Surroundings, Object>> verbs = new LinkedHashMap<>();
        verbs.put("demo", DemoCommand::new);
        verbs.put("map", MapCommand::new);
        verbs.put("check", CheckCommand::new);
        verbs.put("preview", PreviewCommand::new);
        verbs.put("delete", DeleteCommand::new);
        verbs.put("empty", EmptyCommand::new);
        verbs.put("runs", RunsCommand::new);
        verbs.put("deleted", DeletedCommand::new);
        verbs.put("restore", RestoreCommand::new);
        verbs.put("history", HistoryCommand::new);
        verbs.put("purge", PurgeCommand::new);
        verbs.put("hold", HoldCommand::new);
        verbs.put("erase", EraseCommand::new);
        verbs.put("ddl", DdlCommand::new);
        verbs.put("completion", CompletionCommand::new);
        return verbs;
    }

    /**
     * Runs one command.
     *
     * @return its exit status
     */
    static int run(Surroundings surroundings, String... arguments) {
        // To read what all verbs take is a third of a start, and the one that is called needn't know of the others.
        Function<Surroundings, Object> verb = arguments.length == 0 ? null : VERBS.get(arguments[0]);
        return verb == null
                ? commandLine(surroundings).execute(arguments)
                : configured(command(verb, surroundings), surroundings)
                        .setCommandName(surroundings.toolName() + " " + arguments[0])
                        .execute(Arrays.copyOfRange(arguments, 1, arguments.length));
    }

    /** All verbs. */
    static CommandLine commandLine(Surroundings surroundings) {
        CommandLine line = new CommandLine(new VacancyCommand());
        line.addSubcommand(new HelpCommand());
        VERBS.values().forEach(verb -> line.addSubcommand(command(verb, surroundings)));
        return configured(line, surroundings).setCommandName(surroundings.toolName());
    }

    private static CommandLine command(Function<Surroundings, Object> verb, Surroundings surroundings) {
        CommandLine command = new CommandLine(verb.apply(surroundings));
        command.getCommandSpec().version(VacancyCommand.VERSION);
        return command;
    }

    private static CommandLine configured(CommandLine line, Surroundings surroundings) {
        Failures failures = new Failures(surroundings);
        return line.setOut(surroundings.outWriter())
                .setErr(surroundings.errWriter())
                .setUsageHelpAutoWidth(true)
                .setCaseInsensitiveEnumValuesAllowed(true)
                .setParameterExceptionHandler(failures)
                .setExecutionExceptionHandler(failures);
    }
}
