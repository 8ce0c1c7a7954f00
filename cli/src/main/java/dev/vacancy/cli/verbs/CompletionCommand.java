package dev.vacancy.cli.verbs;

import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.Surroundings;
import java.util.concurrent.Callable;
import java.util.function.Supplier;
import picocli.AutoComplete;
import picocli.CommandLine;
import picocli.CommandLine.Command;

/** Prints what a shell needs to complete verbs and options. */
@Command(
        name = "completion",
        mixinStandardHelpOptions = true,
        description = {
            "Print a script for bash or zsh that completes verbs and options.",
            "Where the tool is on the path: source <(vacancy completion)"
        })
public final class CompletionCommand implements Callable<Integer> {
    private static final String NAME = "vacancy";

    private final Surroundings surroundings;
    private final Supplier<CommandLine> commandLine;

    /**
     * Makes the command.
     *
     * @param commandLine gives all verbs
     */
    public CompletionCommand(Surroundings surroundings, Supplier<CommandLine> commandLine) {
        this.surroundings = surroundings;
        this.commandLine = commandLine;
    }

    @Override
    public Integer call() {
        surroundings.out().print(AutoComplete.bash(NAME, commandLine.get()));
        return ExitStatus.DONE;
    }
}
