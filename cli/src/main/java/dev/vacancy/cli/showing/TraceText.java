package dev.vacancy.cli.showing;

import dev.vacancy.cli.terminal.Paint;
import dev.vacancy.trace.Trace;
import dev.vacancy.trace.TraceOutcome;
import dev.vacancy.trace.TracePart;
import dev.vacancy.trace.Treatment;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;

/** What is known of a person, for people. */
public final class TraceText {
    private final Paint paint;

    public TraceText(Paint paint) {
        this.paint = paint;
    }

    /** The tree, and what an erasure would do in one line. */
    public String of(Trace trace) {
        List<String> lines = new ArrayList<>();
        lines.add(tree(trace));
        trace.warnings().forEach(warning -> lines.add("Note: " + warning));
        if (!trace.isEmpty()) {
            lines.add("");
            lines.add("If it is erased: " + sums(trace) + ".");
        }
        return String.join(System.lineSeparator(), lines);
    }

    /** What it did, and what a second look still finds. */
    public String of(TraceOutcome outcome) {
        List<String> lines = new ArrayList<>();
        lines.add("Erased what was known of " + outcome.table() + " " + outcome.key() + ": "
                + PlanText.records(PlanText.sum(outcome.deleted())) + " deleted, "
                + places(PlanText.sum(outcome.masked())) + " masked, " + entries(outcome.entries())
                + " of the audit trail erased.");
        lines.add(
                outcome.left().isEmpty()
                        ? "A second look found nothing."
                        : "A second look found only what was to stay:" + System.lineSeparator() + tree(outcome.left()));
        return String.join(System.lineSeparator(), lines);
    }

    private String tree(Trace trace) {
        return trace.tree((treatment, words) -> switch (treatment) {
            case DELETE, ERASE -> paint.goes(words);
            case MASK, DETACH, REASSIGN -> paint.changes(words);
            case BLOCK -> paint.forbids(words);
            case KEEP -> words;
        });
    }

    private static String sums(Trace trace) {
        Map<Treatment, Long> sums = new EnumMap<>(Treatment.class);
        for (TracePart part : trace.parts()) {
            sums.merge(part.treatment(), part.count(), Long::sum);
        }
        return String.join(
                ", ",
                sums.entrySet().stream()
                        .map(sum -> PlanText.number(sum.getValue()) + " "
                                + (sum.getKey() == Treatment.BLOCK && sum.getValue() > 1
                                        ? "forbid it"
                                        : sum.getKey().toString()))
                        .toList());
    }

    private static String places(long count) {
        return PlanText.number(count) + (count == 1 ? " place" : " places");
    }

    private static String entries(long count) {
        return PlanText.number(count) + (count == 1 ? " entry" : " entries");
    }
}
