package dev.vacancy;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.rule.Rule;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.function.BiFunction;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** Draws a plan as a tree: the selected records on top, below each table what hangs on its records. */
final class PlanTree {
    private static final int ROOTS_SHOWN = 5;

    private final Plan plan;
    private final BiFunction<Rule, String, String> words;
    private final List<Line> lines = new ArrayList<>();
    private final Set<Table> drawn = new HashSet<>();

    /** The tables that stand on a line of their own already. */
    private final Set<Table> below = new HashSet<>();

    private PlanTree(Plan plan, BiFunction<Rule, String, String> words) {
        this.plan = plan;
        this.words = words;
    }

    private record Line(String branch, String count, String remark) {}

    static String of(Plan plan, BiFunction<Rule, String, String> words) {
        PlanTree tree = new PlanTree(plan, words);
        tree.draw(plan.table(), "");
        return tree.heading() + tree.body();
    }

    private String heading() {
        if (plan.isEmpty()) {
            return plan.table() + ": nothing found";
        }
        List<RecordContent> roots = plan.roots();
        String shown = roots.stream()
                .limit(ROOTS_SHOWN)
                .map(root -> Sample.of(root).toString())
                .collect(Collectors.joining(", "));
        String more = plan.selected() > ROOTS_SHOWN
                ? String.format(Locale.ROOT, " and %,d more", plan.selected() - ROOTS_SHOWN)
                : "";
        return plan.table() + " " + shown + more;
    }

    private void draw(Table table, String indent) {
        if (!drawn.add(table)) {
            return;
        }
        List<Effect> effects = plan.effects().stream()
                .filter(effect -> effect.link().parent().equals(table))
                .toList();
        List<Blocker> blockers = plan.blockers().stream()
                .filter(blocker -> blocker.link().parent().equals(table))
                .toList();
        int left = effects.size() + blockers.size();
        for (Blocker blocker : blockers) {
            left--;
            String samples = blocker.children().stream()
                    .map(child -> child.record().toString())
                    .collect(Collectors.joining(", "));
            add(indent, left == 0, name(blocker.link()), number(blocker.count()), said(Rule.BLOCK) + ": " + samples);
        }
        for (Effect effect : effects) {
            left--;
            boolean again = effect.rule() == Rule.CASCADE
                    && below.contains(effect.link().child())
                    && hasChildren(effect.link().child());
            add(indent, left == 0, name(effect.link()), count(effect), remark(effect) + (again ? " (see above)" : ""));
            if (effect.rule() == Rule.CASCADE) {
                below.add(effect.link().child());
                draw(effect.link().child(), indent + (left == 0 ? "   " : "│  "));
            }
        }
    }

    /** Whether anything hangs on the records of a table, so that there is something to see where they were drawn first. */
    private boolean hasChildren(Table table) {
        return Stream.concat(
                        plan.effects().stream().map(Effect::link),
                        plan.blockers().stream().map(Blocker::link))
                .anyMatch(link -> link.parent().equals(table));
    }

    private void add(String indent, boolean last, String child, String count, String remark) {
        lines.add(new Line(indent + (last ? "└─ " : "├─ ") + child, count, remark));
    }

    /** The child's table; with the foreign key behind it where several links lead from there to the same parent. */
    private String name(Link link) {
        boolean several = Stream.concat(
                                plan.effects().stream().map(Effect::link),
                                plan.blockers().stream().map(Blocker::link))
                        .filter(other -> other.child().equals(link.child())
                                && other.parent().equals(link.parent()))
                        .distinct()
                        .count()
                > 1;
        return link.child().name()
                + (several
                        ? link.childColumns().stream().map(Column::name).collect(Collectors.joining(", ", " by ", ""))
                        : "");
    }

    private String count(Effect effect) {
        return (plan.ignoredChanges().contains(effect.link().child().name()) ? "about " : "") + number(effect.count());
    }

    private static String number(long count) {
        return String.format(Locale.ROOT, "%,d", count);
    }

    private String remark(Effect effect) {
        String samples = effect.samples().stream().map(Sample::toString).collect(Collectors.joining(", "));
        String more = effect.count() > effect.samples().size() ? ", …" : "";
        String what = said(effect.rule()) + (effect.isChange() ? change(effect) : "");
        return samples.isEmpty() ? what : what + ": " + samples + more;
    }

    private String said(Rule rule) {
        return words.apply(rule, rule.effect());
    }

    private static String change(Effect effect) {
        String columns =
                effect.link().childColumns().stream().map(Column::name).collect(Collectors.joining(", ", " (", ")"));
        return effect.newParent().map(key -> " to " + key.text()).orElse("") + columns;
    }

    private String body() {
        int branch = lines.stream().mapToInt(line -> line.branch.length()).max().orElse(0);
        int count = lines.stream().mapToInt(line -> line.count.length()).max().orElse(0);
        String format = "\n%-" + Math.max(branch, 1) + "s  %" + Math.max(count, 1) + "s  %s";
        return lines.stream()
                .map(line -> String.format(Locale.ROOT, format, line.branch, line.count, line.remark))
                .collect(Collectors.joining());
    }
}
