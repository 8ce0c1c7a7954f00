package dev.vacancy.cli;

import dev.vacancy.confirm.Approval;
import dev.vacancy.confirm.Question;
import dev.vacancy.plan.Plan;
import dev.vacancy.run.Outcome;
import java.util.Optional;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Plans, asks, runs. */
@Command(
        name = "delete",
        mixinStandardHelpOptions = true,
        description = "Show all that a deletion would do, ask, and do exactly that.",
        footer = "%nWithout a terminal and without --yes the answer is no.")
final class DeleteCommand implements Callable<Integer>, CommonOptions.Holder {
    private final Surroundings surroundings;

    @Mixin
    private CommonOptions common;

    @Mixin
    private SelectionOptions selection;

    @Option(names = "--yes", description = "Answer the question with yes.")
    private boolean yes;

    DeleteCommand(Surroundings surroundings) {
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
            if (!common.json()) {
                surroundings.out().println(PlanText.of(plan));
                surroundings.out().println();
            }
            if (plan.isEmpty()) {
                return end(plan, "nothing matched", ExitStatus.NOTHING_MATCHED);
            }
            if (!plan.blockers().isEmpty()) {
                surroundings.err().println("Blocked. Nothing was deleted.");
                return end(plan, "blocked", ExitStatus.BLOCKED);
            }
            Optional<Approval> approval = ask(Question.about(plan));
            if (approval.isEmpty()) {
                surroundings.err().println("Not approved. Nothing was deleted.");
                return end(plan, "not approved", ExitStatus.NOT_APPROVED);
            }
            Outcome outcome = session.vacancy().run(approval.get());
            surroundings.out().println(common.json() ? PlanJson.of(plan, outcome) : OutcomeText.of(outcome));
            return ExitStatus.DONE;
        }
    }

    private Optional<Approval> ask(Question question) {
        if (yes) {
            return question.answer("yes");
        }
        if (!surroundings.terminal().isThere()) {
            surroundings
                    .err()
                    .println(
                            question.text() + " There is no terminal to ask, so the answer is no (--yes answers yes).");
            return Optional.empty();
        }
        return question.answer(
                surroundings.terminal().ask(question.text() + " [y/N] ").orElse(null));
    }

    private int end(Plan plan, String status, int exitStatus) {
        if (common.json()) {
            surroundings.out().println(PlanJson.of(plan, status));
        }
        return exitStatus;
    }
}
