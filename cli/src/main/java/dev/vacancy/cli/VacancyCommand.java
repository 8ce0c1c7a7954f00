package dev.vacancy.cli;

import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Spec;

/** The tool itself: it only knows its verbs. */
@Command(
        name = "vacancy",
        mixinStandardHelpOptions = true,
        version = VacancyCommand.VERSION,
        description =
                "Deletes records of a database, with all that depends on them: shows what would happen, asks, does it.",
        synopsisSubcommandLabel = "VERB",
        commandListHeading = "%nVerbs:%n",
        footer = {
            "",
            "Exit status: 0 done, 1 failed and nothing changed, 2 wrong usage or",
            "configuration, 3 blocked, 4 not approved, 5 nothing matched, 6 some records",
            "left out and the rest done."
        })
final class VacancyCommand implements Runnable {
    static final String VERSION = "vacancy 0.1.0";

    @Spec
    private CommandSpec spec;

    @Override
    public void run() {
        throw new ParameterException(spec.commandLine(), "Say what to do: give a verb.");
    }
}
