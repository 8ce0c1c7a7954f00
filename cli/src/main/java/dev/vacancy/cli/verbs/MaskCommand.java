package dev.vacancy.cli.verbs;

import dev.vacancy.Approval;
import dev.vacancy.Question;
import dev.vacancy.cli.asking.Asking;
import dev.vacancy.cli.asking.ByOptions;
import dev.vacancy.cli.asking.ColleagueOption;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.showing.PlanText;
import dev.vacancy.cli.terminal.Columns;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.history.History;
import dev.vacancy.history.MaskingPlan;
import dev.vacancy.history.Mention;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Finds a text in the audit trail, and masks it there. */
@Command(
        name = "mask",
        mixinStandardHelpOptions = true,
        description =
                "Show where a text stands in the audit trail and in what bulk runs keep, and put asterisks in its place: what"
                        + " 'erase' can't know to be of a person, such as a name in a note or in a reason. There is no way back.")
public final class MaskCommand extends DatabaseCommand {
    private static final int SHOWN = 20;

    @Parameters(paramLabel = "TEXT", description = "The text, 3 characters or more, in any case.")
    private String text;

    @Option(names = "--yes", description = "Answer the question with yes.")
    private boolean yes;

    @Mixin
    private ColleagueOption colleague;

    @Mixin
    private ByOptions by;

    public MaskCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        History history = session.vacancy().history();
        MaskingPlan plan = history.planMasking(text, by.by());
        if (plan.mentions().isEmpty()) {
            say("'" + plan.text() + "' stands nowhere in the audit trail. Nothing was masked.");
            return end(plan, "nothing matched", ExitStatus.NOTHING_MATCHED);
        }
        if (!json()) {
            print(places(plan));
        }
        plan.refuseBlocked();
        Question question = Question.about(plan);
        Optional<Approval> approval = new Asking(surroundings(), yes)
                .ask(question.text(), question.typed(), question::answer)
                .map(colleague::with);
        if (approval.isEmpty()) {
            say("Not approved. Nothing was masked.");
            return end(plan, "not approved", ExitStatus.NOT_APPROVED);
        }
        long masked = history.mask(approval.get());
        if (!json()) {
            print("Masked in " + places(masked) + ".");
        }
        return end(plan, "done", ExitStatus.DONE);
    }

    private static String places(long count) {
        return PlanText.number(count) + (count == 1 ? " place" : " places");
    }

    private static String places(MaskingPlan plan) {
        List<List<String>> rows = new ArrayList<>();
        rows.add(List.of("record or run", "where", ""));
        plan.mentions().stream()
                .limit(SHOWN)
                .forEach(mention -> rows.add(List.of(
                        subject(mention),
                        String.join(", ", mention.places()),
                        mention.whole() ? "all that this entry says goes" : "")));
        int more = plan.mentions().size() - SHOWN;
        return Columns.of(rows) + (more > 0 ? System.lineSeparator() + "… and " + places(more) + " more" : "");
    }

    private static String subject(Mention mention) {
        return mention.key()
                .map(key -> mention.table() + " " + key)
                .orElse("run " + mention.run().toString().substring(0, 8) + " of " + mention.table());
    }

    private int end(MaskingPlan plan, String status, int exitStatus) {
        if (json()) {
            Map<String, Object> view = new LinkedHashMap<>();
            view.put("status", status);
            view.put("places", plan.total());
            view.put("mentions", plan.mentions().stream().map(MaskCommand::view).toList());
            print(JsonText.write(view));
        }
        return exitStatus;
    }

    private static Map<String, Object> view(Mention mention) {
        Map<String, Object> view = new LinkedHashMap<>();
        view.put("run", mention.run().toString());
        view.put("table", mention.table());
        view.put("key", mention.key().orElse(null));
        view.put("where", mention.places());
        view.put("whole", mention.whole());
        return view;
    }
}
