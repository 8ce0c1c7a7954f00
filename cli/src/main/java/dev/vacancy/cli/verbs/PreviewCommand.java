package dev.vacancy.cli.verbs;

import dev.vacancy.Plan;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.selecting.SelectionOptions;
import dev.vacancy.cli.showing.PictureOption;
import dev.vacancy.cli.showing.PlanJson;
import dev.vacancy.cli.showing.PlanText;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.picture.PlanPicture;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;

/** Shows a plan; nothing changes. */
@Command(
        name = "preview",
        mixinStandardHelpOptions = true,
        description = "Show all that a deletion would do. Nothing is changed.",
        footer = "%nExit status: 0 if it could be done, 3 if records forbid it, 5 if nothing matched.")
public final class PreviewCommand extends DatabaseCommand {
    @Mixin
    private SelectionOptions selection;

    @Mixin
    private PictureOption picture;

    public PreviewCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        Plan plan = selection.plan(session.vacancy(), this::say);
        picture.draw(() -> PlanPicture.of(plan));
        print(json() ? PlanJson.of(plan) : PlanText.of(plan, paint()));
        if (plan.isEmpty() && !plan.skipped().isEmpty()) {
            return ExitStatus.BLOCKED;
        }
        if (plan.isEmpty()) {
            return ExitStatus.NOTHING_MATCHED;
        }
        return plan.blockers().isEmpty() ? ExitStatus.DONE : ExitStatus.BLOCKED;
    }
}
