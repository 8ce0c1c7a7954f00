package dev.vacancy.cli;

import dev.vacancy.Approval;
import dev.vacancy.By;
import picocli.CommandLine.Option;

/** Who agrees besides. */
final class ColleagueOption {
    @Option(
            names = "--agreed-by",
            paramLabel = "NAME",
            description = "The colleague who has looked as well, where the rules want that.")
    private String colleague;

    /** The approval of both, if there are two. */
    Approval with(Approval approval) {
        return colleague == null ? approval : approval.agreedBy(By.user(colleague));
    }
}
