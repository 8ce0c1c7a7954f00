package dev.vacancy.cli.asking;

import dev.vacancy.Approval;
import dev.vacancy.By;
import picocli.CommandLine.Option;

/** Who agrees besides. */
public final class ColleagueOption {
    @Option(
            names = "--agreed-by",
            paramLabel = "NAME",
            description = "The colleague who has looked as well, where the rules want that.")
    private String colleague;

    /** The approval of both, if there are two. */
    public Approval with(Approval approval) {
        return colleague == null ? approval : approval.agreedBy(By.user(colleague));
    }
}
