package dev.vacancy.cli.showing;

import dev.vacancy.Outcome;
import dev.vacancy.cli.terminal.Paint;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;

/** Writes an outcome for people. */
public final class OutcomeText {
    private OutcomeText() {}

    public static String of(Outcome outcome, Paint paint) {
        Map<String, Long> marked = PlanText.part(outcome.counts(), outcome.marked(), true);
        Map<String, Long> gone = PlanText.part(outcome.counts(), outcome.marked(), false);
        List<String> done = new ArrayList<>();
        if (!marked.isEmpty()) {
            done.add(paint.changes("Marked") + " " + PlanText.records(PlanText.sum(marked)) + " as deleted: "
                    + PlanText.counts(marked));
        }
        if (!gone.isEmpty()) {
            done.add(paint.goes("Deleted") + " " + PlanText.records(PlanText.sum(gone)) + ": " + PlanText.counts(gone));
        }
        String deleted = String.join(System.lineSeparator(), done);
        String changed = outcome.changed().entrySet().stream()
                .map(entry -> System.lineSeparator() + paint.changes("Changed") + " "
                        + PlanText.records(entry.getValue()) + ": " + entry.getKey())
                .collect(Collectors.joining());
        String skipped = outcome.skipped().isEmpty()
                ? ""
                : System.lineSeparator() + "Left out "
                        + PlanText.records(outcome.skipped().size()) + " of "
                        + outcome.table() + ", because blocked: "
                        + outcome.skipped().stream()
                                .map(left -> left.root().key().text())
                                .collect(Collectors.joining(", "));
        String reason = outcome.by().reason().map(why -> ", because: " + why).orElse("");
        String run = String.format(
                Locale.ROOT,
                "Run %s by %s%s, took %.2f s",
                outcome.runId(),
                outcome.by().actor(),
                reason,
                seconds(outcome));
        return deleted + changed + skipped + System.lineSeparator() + run;
    }

    private static double seconds(Outcome outcome) {
        return outcome.took().toMillis() / 1000.0;
    }
}
