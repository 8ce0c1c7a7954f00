package dev.vacancy.cli.showing;

import dev.vacancy.cli.terminal.Columns;
import dev.vacancy.cli.terminal.Paint;
import dev.vacancy.retirement.Dependent;
import dev.vacancy.retirement.Dependent.Fate;
import dev.vacancy.retirement.Retired;
import dev.vacancy.retirement.RetirementOutcome;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.retirement.RetirementStep;
import java.nio.file.Path;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;

/** Columns and tables that retire, for people. */
public final class RetirementText {
    private static final int SHORT_ID = 8;
    private static final int SHORT_DEFINITION = 72;

    private final Paint paint;

    public RetirementText(Paint paint) {
        this.paint = paint;
    }

    /** What a step would do. */
    public String of(RetirementPlan plan) {
        List<String> lines = new ArrayList<>();
        lines.add(heading(plan));
        for (Fate fate : Fate.values()) {
            List<Dependent> some = plan.dependents().stream()
                    .filter(object -> object.fate() == fate)
                    .toList();
            if (!some.isEmpty()) {
                lines.add(painted(fate, capitalised(fate.toString()) + ":"));
                some.forEach(object -> add(object, lines));
                if (fate == Fate.IN_THE_WAY
                        && some.stream().anyMatch(object -> object.remedy().isEmpty())) {
                    lines.add("    What has no remedy here goes along if it is named: --along NAME.");
                }
            }
        }
        plan.use().forEach(sentence -> lines.add("Use: " + sentence));
        plan.restorableEntries().stream()
                .filter(entries -> entries > 0)
                .forEach(entries -> lines.add("The audit trail has " + PlanText.records(entries) + " of " + plan.table()
                        + " that can't come back whole once it is gone."));
        plan.notes().forEach(note -> lines.add("Note: " + note));
        plan.unknown().forEach(sentence -> lines.add("Unknown: " + sentence));
        return String.join(System.lineSeparator(), lines);
    }

    private String heading(RetirementPlan plan) {
        String filled = plan.column().isPresent() && plan.step() == RetirementStep.SET_ASIDE
                ? PlanText.number(plan.filled()) + " of " + PlanText.records(plan.records()) + " hold something"
                : PlanText.records(plan.filled());
        return switch (plan.step()) {
            case SET_ASIDE ->
                paint.changes("Sets aside") + " " + plan.name() + ": " + filled + "; may be dropped from "
                        + plan.dueAt().truncatedTo(ChronoUnit.SECONDS) + " on";
            case DROP ->
                paint.goes("Drops") + " " + plan.name() + ": " + filled + ", written to "
                        + plan.files().get(1) + " before";
            case RETURN ->
                "Brings back " + plan.name() + ": " + filled
                        + (plan.files().isEmpty()
                                ? ""
                                : ", from " + plan.files().get(1));
        };
    }

    private static void add(Dependent object, List<String> lines) {
        String definition = object.definition()
                .map(text -> text.strip().replaceAll("\\s+", " "))
                .map(text -> text.length() <= SHORT_DEFINITION ? text : text.substring(0, SHORT_DEFINITION - 1) + "…")
                .filter(text -> !text.equals(object.name())
                        && !text.equals(object.kind().toString()))
                .map(text -> "  " + text)
                .orElse("");
        lines.add("  " + object.kind() + " " + object.name() + definition);
        object.remedy()
                .filter(remedy -> object.fate() == Fate.IN_THE_WAY)
                .ifPresent(remedy -> lines.add("    " + remedy));
    }

    private String painted(Fate fate, String words) {
        return switch (fate) {
            case IN_THE_WAY, LEFT_TO_FAIL -> paint.forbids(words);
            case GOES_ALONG, KEPT_APART -> paint.changes(words);
            case GOES_WITH_IT -> paint.goes(words);
            case STAYS -> words;
        };
    }

    private static String capitalised(String words) {
        return Character.toUpperCase(words.charAt(0)) + words.substring(1);
    }

    /** What a step did. */
    public String of(RetirementOutcome outcome) {
        List<String> lines = new ArrayList<>();
        lines.add(
                switch (outcome.step()) {
                    case SET_ASIDE -> "Set aside " + outcome.name() + " as " + outcome.nameAside() + ".";
                    case DROP ->
                        "Dropped " + outcome.name() + "; what " + PlanText.records(outcome.records()) + " held is in "
                                + outcome.files().get(1) + ".";
                    case RETURN ->
                        "Brought back " + outcome.name() + ", with what " + PlanText.records(outcome.records())
                                + " hold.";
                });
        outcome.leftOut().forEach(left -> lines.add("Left out: " + left + "."));
        lines.add("Run " + outcome.id() + " by " + outcome.by().actor());
        if (outcome.step() != RetirementStep.RETURN) {
            lines.add("'restore " + outcome.id().toString().substring(0, SHORT_ID) + "' brings it back.");
        }
        return String.join(System.lineSeparator(), lines);
    }

    /** What has retired. */
    public static String of(List<Retired> retired, Instant now) {
        if (retired.isEmpty()) {
            return "Nothing has retired.";
        }
        List<List<String>> rows = new ArrayList<>();
        rows.add(List.of("run", "what", "state", "since", "may be dropped", "by", "files"));
        for (Retired one : retired) {
            rows.add(List.of(
                    one.id().toString().substring(0, SHORT_ID),
                    one.name(),
                    one.state().toString(),
                    one.at().truncatedTo(ChronoUnit.SECONDS).toString(),
                    one.isDue(now)
                            ? "now"
                            : one.dueAt().truncatedTo(ChronoUnit.SECONDS).toString(),
                    one.by().actor(),
                    one.files().stream().map(Path::toString).skip(1).findFirst().orElse("")));
        }
        return Columns.of(rows);
    }
}
