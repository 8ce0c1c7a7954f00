package dev.vacancy.cli.verbs;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Emptying;
import dev.vacancy.EmptyingPlan;
import dev.vacancy.JsonForm;
import dev.vacancy.Outcome;
import dev.vacancy.Question;
import dev.vacancy.cli.asking.Asking;
import dev.vacancy.cli.asking.ColleagueOption;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.showing.OutcomeText;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.Surroundings;
import java.util.LinkedHashMap;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Empties a table that nothing else depends on. */
@Command(
        name = "empty",
        mixinStandardHelpOptions = true,
        description = "Empty a whole table that no other table depends on, in the fastest way that the database has.",
        footer = {"", "The question is answered by typing the number of records, on a terminal."})
public final class EmptyCommand extends DatabaseCommand {
    @Parameters(paramLabel = "TABLE", description = "The table to empty.")
    private String table;

    @Option(
            names = "--pass-over-triggers",
            description = "Where it is faster, don't tell the table's triggers of its records.")
    private boolean passingOverTriggers;

    @Option(names = "--as", paramLabel = "NAME", description = "Who wants it; the system's user if left out.")
    private String actor = System.getProperty("user.name");

    @Mixin
    private ColleagueOption colleague;

    @Option(names = "--reason", paramLabel = "TEXT", description = "Why.")
    private String reason;

    public EmptyCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        By by = By.user(actor).because(reason);
        Emptying emptying = Emptying.of(table);
        EmptyingPlan plan =
                session.vacancy().plan(passingOverTriggers ? emptying.passingOverAllTriggers() : emptying, by);
        if (!json()) {
            print(text(plan));
        }
        if (plan.records() == 0) {
            return end(plan, "nothing matched", ExitStatus.NOTHING_MATCHED);
        }
        Question question = Question.about(plan);
        Optional<Approval> approval =
                new Asking(surroundings(), false).ask(question.text(), question.typed(), question::answer);
        if (approval.isEmpty()) {
            say("Not approved. Nothing was deleted.");
            return end(plan, "not approved", ExitStatus.NOT_APPROVED);
        }
        Outcome outcome = session.vacancy().run(colleague.with(approval.get()));
        if (json()) {
            Map<String, Object> done = parts(plan, "done");
            done.putAll(JsonText.parts(JsonForm.of(outcome)));
            print(JsonText.write(done));
        } else {
            print(OutcomeText.of(outcome, paint()));
        }
        return ExitStatus.DONE;
    }

    private static String text(EmptyingPlan plan) {
        String way = plan.way() == EmptyingPlan.Way.TRUNCATE
                ? "dropped at once"
                : "deleted by one statement, which the table's triggers are told of";
        String triggers = plan.passedOver().isEmpty()
                ? ""
                : String.format("%nNot told: the triggers %s", String.join(", ", plan.passedOver()));
        return String.format(Locale.ROOT, "All %,d records of %s, %s%s", plan.records(), plan.table(), way, triggers);
    }

    private int end(EmptyingPlan plan, String status, int exitStatus) {
        if (json()) {
            print(JsonText.write(parts(plan, status)));
        }
        return exitStatus;
    }

    private static Map<String, Object> parts(EmptyingPlan plan, String status) {
        Map<String, Object> parts = new LinkedHashMap<>();
        parts.put("table", plan.table().name());
        parts.put("records", plan.records());
        parts.put("way", plan.way().name().toLowerCase(Locale.ROOT));
        parts.put("passedOver", plan.passedOver());
        parts.put("fingerprint", plan.fingerprint());
        parts.put("status", status);
        parts.put("run", null);
        return parts;
    }
}
