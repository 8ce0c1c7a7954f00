package dev.vacancy.cli.asking;

import dev.vacancy.Approval;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.showing.OutcomeText;
import dev.vacancy.cli.showing.PlanJson;
import dev.vacancy.cli.showing.PlanText;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.rule.Consent;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.function.Function;

/** Shows the plan of a deletion, asks, and has it run. */
public final class AskedDeletion {
    private final DatabaseCommand command;
    private final boolean yes;

    /**
     * Prepares to ask.
     *
     * @param yes whether a question that takes yes or no is answered already
     */
    public AskedDeletion(DatabaseCommand command, boolean yes) {
        this.command = command;
        this.yes = yes;
    }

    /**
     * Shows a plan.
     *
     * @return the exit status, if there is nothing to ask about
     */
    public OptionalInt show(Plan plan) {
        if (!command.json()) {
            command.print(PlanText.of(plan, command.paint()));
            command.print("");
        }
        if (plan.isEmpty() && !plan.skipped().isEmpty()) {
            command.say("All of them are blocked. Nothing was deleted.");
            return OptionalInt.of(end(plan, "blocked", ExitStatus.BLOCKED));
        }
        if (plan.isEmpty() && !plan.alreadyDeleted().isEmpty()) {
            command.say("Nothing was changed: deleted already.");
            return OptionalInt.of(end(plan, "deleted already", ExitStatus.NOTHING_MATCHED));
        }
        return plan.isEmpty()
                ? OptionalInt.of(end(plan, "nothing matched", ExitStatus.NOTHING_MATCHED))
                : OptionalInt.empty();
    }

    /**
     * Asks about a plan that was shown, and runs it if the answer is yes.
     *
     * @return the exit status
     */
    public int ask(Plan plan, Function<Approval, Outcome> run) {
        if (plan.isBlocked()) {
            command.say("Blocked. Nothing was deleted.");
            return end(plan, "blocked", ExitStatus.BLOCKED);
        }
        Optional<Approval> approval = put(Question.about(plan), plan);
        if (approval.isEmpty()) {
            command.say("Not approved. Nothing was deleted.");
            return end(plan, "not approved", ExitStatus.NOT_APPROVED);
        }
        Outcome outcome = run.apply(approval.get());
        command.print(command.json() ? PlanJson.of(plan, outcome) : OutcomeText.of(outcome, command.paint()));
        return outcome.skipped().isEmpty() ? ExitStatus.DONE : ExitStatus.SOME_FAILED;
    }

    /**
     * Puts a question, unless none is due.
     *
     * <p>Whoever has said how many records there must be, and was right, needn't type that all of a table is meant, unless the rules want it
     * typed.
     */
    public Optional<Approval> put(Question question, Plan plan) {
        if (!question.isDue()) {
            return question.answer("yes");
        }
        boolean byNumber = plan.demanded().compareTo(Consent.NUMBER) < 0;
        if (yes && byNumber && plan.selection().expected().isPresent()) {
            return question.answer(question.typed().orElse("yes"));
        }
        Optional<Approval> approval =
                new Asking(command.surroundings(), yes).ask(question.text(), question.typed(), question::answer);
        if (approval.isEmpty() && yes && byNumber && question.typed().isPresent()) {
            command.say("--yes --expect " + plan.selected() + " is that answer, too.");
        }
        return approval;
    }

    /** Ends without having asked, or in vain. */
    public int end(Plan plan, String status, int exitStatus) {
        if (command.json()) {
            command.print(PlanJson.of(plan, status));
        }
        return exitStatus;
    }
}
