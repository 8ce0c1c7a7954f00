package dev.vacancy.cli.verbs;

import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.showing.FindingsJson;
import dev.vacancy.cli.showing.FindingsText;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.rule.Finding;
import java.util.List;
import picocli.CommandLine.Command;

/** Tells what is wrong or risky in rules and schema. */
@Command(
        name = "check",
        mixinStandardHelpOptions = true,
        description = "Tell what is wrong or risky in rules and schema, and what to do about it.",
        footer = "%nExit status: 0 if nothing was found, 1 if something was.")
public final class CheckCommand extends DatabaseCommand {
    public CheckCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        List<Finding> findings = session.check();
        print(json() ? FindingsJson.of(findings) : FindingsText.of(findings));
        return findings.isEmpty() ? ExitStatus.DONE : ExitStatus.FINDINGS;
    }
}
