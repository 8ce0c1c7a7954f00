package dev.vacancy.cli;

import picocli.CommandLine;

/** Starts the tool. */
public final class Main {
    private Main() {}

    /**
     * Runs one command and ends the process with its exit status.
     *
     * @param arguments verb, options and parameters
     */
    public static void main(String[] arguments) {
        // From Java 22 on there is a console object without a terminal too, unless this asks for the former behaviour.
        System.setProperty("jdk.console", "java.base");
        System.exit(commandLine(Surroundings.ofThisProcess()).execute(arguments));
    }

    static CommandLine commandLine(Surroundings surroundings) {
        CommandLine line = new CommandLine(new VacancyCommand())
                .addSubcommand(new DemoCommand(surroundings))
                .addSubcommand(new MapCommand(surroundings))
                .addSubcommand(new CheckCommand(surroundings))
                .addSubcommand(new PreviewCommand(surroundings))
                .addSubcommand(new DeleteCommand(surroundings))
                .addSubcommand(new EmptyCommand(surroundings))
                .addSubcommand(new RunsCommand(surroundings))
                .addSubcommand(new DeletedCommand(surroundings))
                .addSubcommand(new RestoreCommand(surroundings))
                .addSubcommand(new HistoryCommand(surroundings))
                .addSubcommand(new PurgeCommand(surroundings))
                .addSubcommand(new HoldCommand(surroundings))
                .addSubcommand(new EraseCommand(surroundings))
                .addSubcommand(new DdlCommand(surroundings))
                .setOut(surroundings.outWriter())
                .setErr(surroundings.errWriter())
                .setCommandName(surroundings.toolName())
                .setUsageHelpAutoWidth(true)
                .setCaseInsensitiveEnumValuesAllowed(true);
        Failures failures = new Failures(surroundings);
        return line.setParameterExceptionHandler(failures).setExecutionExceptionHandler(failures);
    }
}
