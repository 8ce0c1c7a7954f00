package dev.vacancy.cli;

import dev.vacancy.confirm.Approval;
import dev.vacancy.confirm.Question;
import dev.vacancy.plan.Limits;
import dev.vacancy.plan.Plan;
import dev.vacancy.run.Outcome;
import java.time.Duration;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Plans, asks, runs. */
@Command(
        name = "delete",
        mixinStandardHelpOptions = true,
        description = "Show all that a deletion would do, ask, and do exactly that.",
        footer = {
            "",
            "Without a terminal and without --yes the answer is no.",
            "Exit status: 6 if blocked records were left out and the others deleted."
        })
final class DeleteCommand extends DatabaseCommand {
    @Mixin
    private SelectionOptions selection;

    @Option(names = "--yes", description = "Answer the question with yes.")
    private boolean yes;

    @Option(
            names = "--wait",
            paramLabel = "SECONDS",
            description = "How long to wait for records that somebody else holds; 0 fails at once. 5 if left out.")
    private Long wait;

    DeleteCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    Limits limits() {
        return wait == null ? super.limits() : super.limits().lockWait(Duration.ofSeconds(wait));
    }

    @Override
    int on(Session session) {
        Plan plan = selection.plan(session.vacancy(), this::say);
        if (!json()) {
            print(PlanText.of(plan, paint()));
            print("");
        }
        if (plan.isEmpty() && !plan.skipped().isEmpty()) {
            say("All of them are blocked. Nothing was deleted.");
            return end(plan, "blocked", ExitStatus.BLOCKED);
        }
        if (plan.isEmpty()) {
            return end(plan, "nothing matched", ExitStatus.NOTHING_MATCHED);
        }
        if (!plan.blockers().isEmpty()) {
            say("Blocked. Nothing was deleted.");
            return end(plan, "blocked", ExitStatus.BLOCKED);
        }
        Optional<Approval> approval = ask(Question.about(plan));
        if (approval.isEmpty()) {
            say("Not approved. Nothing was deleted.");
            return end(plan, "not approved", ExitStatus.NOT_APPROVED);
        }
        Outcome outcome = session.vacancy().run(approval.get());
        print(json() ? PlanJson.of(plan, outcome) : OutcomeText.of(outcome, paint()));
        return outcome.skipped().isEmpty() ? ExitStatus.DONE : ExitStatus.SOME_FAILED;
    }

    private Optional<Approval> ask(Question question) {
        if (yes && question.typed().isEmpty()) {
            return question.answer("yes");
        }
        String typed =
                question.typed().map(number -> " Type " + number + " to do so").orElse("");
        if (!surroundings().terminal().isThere()) {
            say(question.text() + " There is no terminal to ask, so the answer is no"
                    + (typed.isEmpty() ? " (--yes answers yes)." : ": this one has to be typed, --yes is not enough."));
            return Optional.empty();
        }
        String prompt = typed.isEmpty() ? " [y/N] " : typed + ": ";
        return question.answer(
                surroundings().terminal().ask(question.text() + prompt).orElse(null));
    }

    private int end(Plan plan, String status, int exitStatus) {
        if (json()) {
            print(PlanJson.of(plan, status));
        }
        return exitStatus;
    }
}
