package dev.vacancy.cli;

import dev.vacancy.plan.Plan;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;

/** Shows a plan; nothing changes. */
@Command(
        name = "preview",
        mixinStandardHelpOptions = true,
        description = "Show all that a deletion would do. Nothing is changed.",
        footer = "%nExit status: 0 if it could be done, 3 if records forbid it, 5 if no key was found.")
final class PreviewCommand implements Callable<Integer>, CommonOptions.Holder {
    private final Surroundings surroundings;

    @Mixin
    private CommonOptions common;

    @Mixin
    private SelectionOptions selection;

    PreviewCommand(Surroundings surroundings) {
        this.surroundings = surroundings;
    }

    @Override
    public CommonOptions common() {
        return common;
    }

    @Override
    public Integer call() {
        try (Session session = Session.open(common, surroundings.terminal())) {
            Plan plan = selection.plan(session.vacancy());
            surroundings.out().println(common.json() ? PlanJson.of(plan) : PlanText.of(plan));
            if (plan.isEmpty()) {
                return ExitStatus.NOTHING_MATCHED;
            }
            return plan.blockers().isEmpty() ? ExitStatus.DONE : ExitStatus.BLOCKED;
        }
    }
}
