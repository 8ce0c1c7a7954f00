package dev.vacancy.cli.verbs;

import dev.vacancy.Approval;
import dev.vacancy.ErasureOutcome;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.catalog.Table;
import dev.vacancy.cli.asking.Asking;
import dev.vacancy.cli.asking.ByOptions;
import dev.vacancy.cli.asking.ColleagueOption;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.selecting.HandOverOptions;
import dev.vacancy.cli.selecting.KeyText;
import dev.vacancy.cli.showing.OutcomeText;
import dev.vacancy.cli.showing.PlanText;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.history.ErasurePlan;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Removes a record for good, and its content from the audit trail. */
@Command(
        name = "erase",
        mixinStandardHelpOptions = true,
        description =
                "Remove a record for good, and what the audit trail holds of it: a person's right to be forgotten. That"
                        + " something was there and went stays told. There is no way back.")
public final class EraseCommand extends DatabaseCommand {
    @Parameters(paramLabel = "TABLE", description = "The table of the record.")
    private String table;

    @Option(
            names = "--key",
            paramLabel = "KEY",
            required = true,
            description = "The key of the record. A composite key is column=value,column=value.")
    private String key;

    @Mixin
    private HandOverOptions handOver;

    @Option(names = "--yes", description = "Answer the question with yes.")
    private boolean yes;

    @Mixin
    private ColleagueOption colleague;

    @Mixin
    private ByOptions by;

    public EraseCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        Vacancy vacancy = session.vacancy();
        Table asked = vacancy.catalog().table(table);
        Object given = asked.identity().size() > 1 ? KeyText.composite(asked, key) : List.of(key);
        Selection selection = Selection.of(asked.name()).keys(List.of(given)).hard();
        Plan plan = vacancy.plan(handOver.on(selection, vacancy), by.by());
        String text = vacancy.history().keyText(asked.name(), selection.keys().get(0));
        ErasurePlan trail = vacancy.history().planErasure(asked.name(), text, by.by());
        long entries = trail.entries();
        if (!json()) {
            print(PlanText.ofErasure(plan, paint()));
            print("Erases what the audit trail tells of it and of what went with it: " + entries(entries)
                    + (plan.isEmpty() ? "." : ", and what this deletion adds."));
        }
        if (plan.isEmpty() && entries == 0) {
            say("There is no such record, and the audit trail holds nothing of one. Nothing was erased.");
            return end(asked, text, "nothing matched", null, 0, ExitStatus.NOTHING_MATCHED);
        }
        if (plan.isBlocked()) {
            say("Blocked. Nothing was erased.");
            return end(asked, text, "blocked", null, 0, ExitStatus.BLOCKED);
        }
        Optional<Approval> approval = approval(plan.isEmpty() ? Question.about(trail) : Question.aboutErasing(plan))
                .map(colleague::with);
        if (approval.isEmpty()) {
            say("Not approved. Nothing was erased.");
            return end(asked, text, "not approved", null, 0, ExitStatus.NOT_APPROVED);
        }
        Optional<ErasureOutcome> erasure = plan.isEmpty() ? Optional.empty() : approval.map(vacancy::erase);
        Outcome outcome = erasure.map(ErasureOutcome::outcome).orElse(null);
        long erased = erasure.isPresent()
                ? erasure.get().entries()
                : vacancy.history().erase(approval.get());
        if (!json()) {
            if (outcome != null) {
                print(OutcomeText.of(outcome, paint()));
            }
            print("Erased the content of " + entries(erased)
                    + (outcome == null ? "." : ", those of this deletion among them."));
            print("A name in somebody else's note, or in a reason, is found by its text: vacancy mask TEXT.");
        }
        return end(asked, text, "done", outcome, erased, ExitStatus.DONE);
    }

    private static String entries(long count) {
        return PlanText.number(count) + (count == 1 ? " entry" : " entries");
    }

    private Optional<Approval> approval(Question question) {
        return new Asking(surroundings(), yes).ask(question.text(), question.typed(), question::answer);
    }

    private int end(Table asked, String text, String status, Outcome outcome, long erased, int exitStatus) {
        if (json()) {
            Map<String, Object> view = new LinkedHashMap<>();
            view.put("table", asked.name());
            view.put("key", text);
            view.put("status", status);
            view.put("run", outcome == null ? null : outcome.runId().toString());
            view.put("entries", erased);
            print(JsonText.write(view));
        }
        return exitStatus;
    }
}
