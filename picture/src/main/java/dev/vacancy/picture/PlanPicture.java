package dev.vacancy.picture;

import dev.vacancy.Blocker;
import dev.vacancy.Effect;
import dev.vacancy.Plan;
import dev.vacancy.Sample;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.rule.Rule;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;

/** A picture of a plan: what goes, what stays and how it is changed, what forbids it, each with its number. */
public final class PlanPicture {
    private static final int LONGEST_REASON = 44;

    private final Plan plan;
    private final Map<String, Diagram.Box> boxes = new LinkedHashMap<>();
    private final List<Diagram.Line> lines = new ArrayList<>();

    private PlanPicture(Plan plan) {
        this.plan = plan;
    }

    /**
     * Draws a plan.
     *
     * @param plan the plan
     * @return SVG
     */
    public static String of(Plan plan) {
        PlanPicture picture = new PlanPicture(plan);
        plan.counts().forEach(picture::addGoing);
        plan.effects().forEach(picture::add);
        plan.blockers().forEach(picture::add);
        return Svg.of(new Diagram(picture.title(), picture.boxes, picture.lines));
    }

    private String title() {
        String what = plan.table() + " "
                + plan.roots().stream()
                        .limit(3)
                        .map(root -> Sample.of(root).toString())
                        .collect(Collectors.joining(", "))
                + (plan.selected() > 3 ? ", …" : "");
        if (plan.isEmpty()) {
            return plan.table() + ": nothing would go";
        }
        return plan.blockers().isEmpty()
                ? "Deleting " + what + ": " + records(plan.total()) + " would go"
                : "Deleting " + what + " is forbidden";
    }

    private void addGoing(String table, long count) {
        boxes.put(going(table), new Diagram.Box(table, List.of(records(count) + " would go"), Tone.GOES));
    }

    private void add(Effect effect) {
        Link link = effect.link();
        String to = going(link.child().name());
        if (effect.rule() != Rule.CASCADE) {
            to = "staying " + link.where() + " " + effect.rule();
            boxes.put(
                    to,
                    new Diagram.Box(
                            link.child().name(),
                            List.of(records(effect.count()) + " would stay:", effect.change()),
                            Tone.of(effect.rule())));
        }
        addLine(link, to, effect.rule(), effect.count());
    }

    private void add(Blocker blocker) {
        String to = "forbidding " + blocker.link().where() + " " + blocker.reason();
        String count = records(blocker.count()) + (blocker.count() == 1 ? " forbids it:" : " forbid it:");
        boxes.put(
                to,
                new Diagram.Box(
                        blocker.link().child().name(), List.of(count, shortened(blocker.reason())), Tone.FORBIDS));
        addLine(blocker.link(), to, Rule.BLOCK, blocker.count());
    }

    private void addLine(Link link, String to, Rule rule, long count) {
        String columns = link.childColumns().stream().map(Column::name).collect(Collectors.joining(", "));
        String label = rule + " " + String.format(Locale.ROOT, "%,d", count);
        lines.add(new Diagram.Line(
                going(link.parent().name()), to, List.of(columns, label), Tone.of(rule), !link.declared()));
    }

    private static String going(String table) {
        return "going " + table;
    }

    private static String records(long count) {
        return String.format(Locale.ROOT, "%,d %s", count, count == 1 ? "record" : "records");
    }

    private static String shortened(String text) {
        return text.length() <= LONGEST_REASON ? text : text.substring(0, LONGEST_REASON - 1) + "…";
    }
}
