package dev.vacancy.cli.asking;

import dev.vacancy.Approval;
import dev.vacancy.JsonForm;
import dev.vacancy.Question;
import dev.vacancy.Vacancy;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.showing.RetirementText;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.retirement.RetirementOutcome;
import dev.vacancy.retirement.RetirementPlan;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * Shows a step of a retirement, asks, and carries it out.
 *
 * @param command what was called
 * @param yes whether a question that takes yes or no is answered already
 * @param colleague who agrees besides
 * @param view takes what there is to say to programs
 */
public record AskedRetirement(
        DatabaseCommand command, boolean yes, ColleagueOption colleague, Map<String, Object> view) {
    public static AskedRetirement of(DatabaseCommand command, boolean yes, ColleagueOption colleague) {
        return new AskedRetirement(command, yes, colleague, new LinkedHashMap<>());
    }

    /** Returns the exit status. */
    public int on(Vacancy vacancy, RetirementPlan plan) {
        RetirementText text = new RetirementText(command.paint());
        view.put("status", "blocked");
        view.put("plan", JsonForm.of(plan));
        view.put("outcome", null);
        if (!command.json()) {
            command.print(text.of(plan));
            command.print("");
        }
        if (plan.isBlocked()) {
            command.say("Blocked. Nothing was changed.");
            return ExitStatus.BLOCKED;
        }
        Question question = Question.about(plan);
        Optional<Approval> approval = new Asking(command.surroundings(), yes)
                .ask(question.text(), question.typed(), question::answer)
                .map(colleague::with);
        if (approval.isEmpty()) {
            command.say("Not approved. Nothing was changed.");
            view.put("status", "not approved");
            return ExitStatus.NOT_APPROVED;
        }
        RetirementOutcome outcome = vacancy.retire(approval.get());
        view.put("status", "done");
        view.put("outcome", JsonForm.of(outcome));
        if (!command.json()) {
            command.print(text.of(outcome));
        }
        return ExitStatus.DONE;
    }
}
