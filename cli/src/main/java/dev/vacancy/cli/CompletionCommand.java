package dev.vacancy.cli;

import java.util.concurrent.Callable;
import picocli.AutoComplete;
import picocli.CommandLine.Command;

/** Prints what a shell needs to complete verbs and options. */
@Command(
        name = "completion",
        mixinStandardHelpOptions = true,
        description = {
            "Print a script for bash or zsh that completes verbs and options.",
            "Where the tool is on the path: source <(vacancy completion)"
        })
final class CompletionCommand implements Callable<Integer> {
    private static final String NAME = "vacancy";

    private final Surroundings surroundings;

    CompletionCommand(Surroundings surroundings) {
        this.surroundings = surroundings;
    }

    @Override
    public Integer call() {
        surroundings.out().print(AutoComplete.bash(NAME, Main.commandLine(surroundings)));
        return ExitStatus.DONE;
    }
}
