package dev.vacancy.cli.showing;

import dev.vacancy.Blocker;
import dev.vacancy.Criteria;
import dev.vacancy.Effect;
import dev.vacancy.Plan;
import dev.vacancy.Sample;
import dev.vacancy.Skipped;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.cli.terminal.Paint;
import dev.vacancy.cli.terminal.PlainText;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;

/** Writes a plan for people: the records in question whole, the tree of what hangs on them, and what it comes to. */
public final class PlanText {
    /** Of each list of embedded documents. */
    private static final int ELEMENTS_SHOWN = 3;

    /** People compare a few digits; programs are given all of them. */
    private static final int SHOWN_DIGITS = 12;

    private static final int ROOTS_SHOWN_WHOLE = 3;
    private static final int KEYS_SHOWN = 20;

    private final Paint paint;
    private final boolean erasing;

    private PlanText(Paint paint, boolean erasing) {
        this.paint = paint;
        this.erasing = erasing;
    }

    public static String of(Plan plan, Paint paint) {
        return new PlanText(paint, false).text(plan);
    }

    /** The plan of a record that the audit trail will forget as well. */
    public static String ofErasure(Plan plan, Paint paint) {
        return new PlanText(paint, true).text(plan);
    }

    private String text(Plan plan) {
        List<String> parts = new ArrayList<>();
        plan.roots().stream().limit(ROOTS_SHOWN_WHOLE).map(PlanText::whole).forEach(parts::add);
        if (!plan.isEmpty()) {
            parts.add(plan.tree(paint::effect));
        }
        parts.add(String.join(System.lineSeparator(), summary(plan)));
        return String.join(System.lineSeparator().repeat(2), parts);
    }

    public static String counts(Map<String, Long> counts) {
        return counts.entrySet().stream()
                .map(entry -> entry.getKey() + " " + number(entry.getValue()))
                .collect(Collectors.joining(", "));
    }

    /** The counts of the tables whose records are marked, or of the others. */
    public static Map<String, Long> part(Map<String, Long> counts, Collection<String> marked, boolean staying) {
        Map<String, Long> part = new LinkedHashMap<>();
        counts.forEach((table, count) -> {
            if (marked.contains(table) == staying) {
                part.put(table, count);
            }
        });
        return part;
    }

    public static long sum(Map<String, Long> counts) {
        return counts.values().stream().mapToLong(Long::longValue).sum();
    }

    public static String number(long count) {
        return String.format(Locale.ROOT, "%,d", count);
    }

    public static String records(long count) {
        return number(count) + (count == 1 ? " record" : " records");
    }

    private static String whole(RecordContent root) {
        return "The record of " + root.table() + " " + PlainText.of(root.key()) + ":" + System.lineSeparator()
                + PlainText.of(root.plainValues(), "  ", ELEMENTS_SHOWN);
    }

    private void addBlocker(Blocker blocker, List<String> lines) {
        lines.add("  " + blocker.text());
        blocker.children().stream().map(child -> "    " + child.text()).forEach(lines::add);
        if (blocker.unnamed() > 0) {
            lines.add("    and " + number(blocker.unnamed()) + " more");
        }
    }

    private static void addSkipped(Plan plan, List<String> lines) {
        if (plan.skipped().isEmpty()) {
            return;
        }
        lines.add("Left out, because blocked: " + records(plan.skipped().size()));
        for (Skipped skipped : plan.skipped()) {
            lines.add("  " + skipped.root().table() + " " + Sample.of(skipped.root()));
            skipped.blockers().forEach(blocker -> lines.add("    " + blocker.text() + named(blocker)));
        }
    }

    private static String named(Blocker blocker) {
        String more = blocker.unnamed() > 0 ? ", …" : "";
        return blocker.children().isEmpty()
                ? ""
                : blocker.children().stream()
                        .map(child -> child.record().toString())
                        .collect(Collectors.joining(", ", ": ", more));
    }

    private static String picked(Plan plan, Criteria criteria) {
        long picked = plan.selected() + plan.skipped().size();
        return (picked == 0 ? "No record" : records(picked)) + " of " + plan.table() + " where " + criteria;
    }

    private List<String> summary(Plan plan) {
        List<String> lines = new ArrayList<>();
        if (!plan.notFound().isEmpty()) {
            int left = plan.notFound().size() - KEYS_SHOWN;
            String keys =
                    plan.notFound().stream().limit(KEYS_SHOWN).map(Key::text).collect(Collectors.joining(", "));
            lines.add(
                    "Not found in " + plan.table() + ": " + keys + (left > 0 ? " and " + number(left) + " more" : ""));
        }
        if (!plan.alreadyDeleted().isEmpty()) {
            lines.add("Deleted already, from " + plan.table() + ": "
                    + plan.alreadyDeleted().stream()
                            .limit(KEYS_SHOWN)
                            .map(Key::text)
                            .collect(Collectors.joining(", "))
                    + (plan.alreadyDeleted().size() > KEYS_SHOWN ? ", …" : ""));
        }
        plan.selection().criteria().map(criteria -> picked(plan, criteria)).ifPresent(lines::add);
        addSkipped(plan, lines);
        if (plan.isEmpty()) {
            return lines;
        }
        if (plan.isBlocked()) {
            lines.add(paint.forbids("Blocked:"));
            plan.blockers().forEach(blocker -> addBlocker(blocker, lines));
            plan.holds()
                    .forEach(held -> lines.add("  " + records(held.count()) + " of " + held.table() + " held by "
                            + held.by() + ": " + held.reason() + " (hold " + held.hold() + ")"));
            return lines;
        }
        Map<String, Long> marked = part(plan.counts(), plan.marked(), true);
        Map<String, Long> going = part(plan.counts(), plan.marked(), false);
        if (!marked.isEmpty()) {
            lines.add(paint.changes("Marks") + " " + records(sum(marked)) + " as deleted: " + counts(marked));
        }
        if (!going.isEmpty()) {
            lines.add(paint.goes("Deletes") + " " + records(sum(going)) + ": " + counts(going));
        }
        if (!plan.inactive().isEmpty()) {
            lines.add("Among these were deleted before, and only marked: " + counts(plan.inactive()));
        }
        plan.effects().stream()
                .filter(Effect::isChange)
                .map(effect -> paint.changes("Changes") + " " + records(effect.count()) + ": " + effect.change())
                .forEach(lines::add);
        plan.touched()
                .forEach((table, count) -> lines.add(paint.changes("Touches") + " " + records(count) + " of " + table
                        + ": who changed it last, and when"));
        if (plan.colleague()) {
            lines.add("A colleague has to agree as well.");
        }
        plan.warnings().forEach(warning -> lines.add("Note: " + warning));
        if (!plan.transactional()) {
            lines.add("Note: no transaction holds it, so others see it while it goes on.");
        }
        lines.add(wayBack(plan));
        lines.add("Fingerprint " + plan.fingerprint().substring(0, SHOWN_DIGITS));
        return lines;
    }

    private String wayBack(Plan plan) {
        if (erasing) {
            return "No way back: what the audit trail holds of it is erased.";
        }
        return plan.isReversible()
                ? "Way back: " + (plan.recorded() ? "restore, from the audit trail" : "clear the marker")
                : "No way back: there is no audit trail.";
    }
}
