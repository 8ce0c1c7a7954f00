package dev.vacancy.plan;

import dev.vacancy.catalog.Link;
import java.util.List;
import java.util.stream.Collectors;

/**
 * Child records on one link that forbid the deletion.
 *
 * @param link the link to the parent that would go
 * @param reason why they forbid it, as a clause that can follow "because"
 * @param count how many there are
 * @param children the first few of them, by key
 * @since 0.1
 */
public record Blocker(Link link, String reason, long count, List<Child> children) {
    /** Keeps its own copy of the children. */
    public Blocker {
        children = List.copyOf(children);
    }

    /**
     * One child record that forbids the deletion, with the way to it.
     *
     * @param record the child
     * @param way the records between the selected one, which comes first, and the child, each with its table's name
     */
    public record Child(Sample record, List<String> way) {
        /** Keeps its own copy of the way. */
        public Child {
            way = List.copyOf(way);
        }
    }

    /**
     * Says what forbids the deletion and why.
     *
     * @return a line such as {@code hive 4 → batch_hive (2, 4); (5, 4): batch_hive.hive_id forbids it, the schema says ON
     *     DELETE NO ACTION}
     */
    public String text() {
        String way = children.stream()
                .findFirst()
                .filter(child -> !child.way().isEmpty())
                .map(child -> String.join(" → ", child.way()) + " → ")
                .orElse("");
        String named = children.stream().map(child -> child.record().toString()).collect(Collectors.joining("; "));
        String more = count > children.size() ? "; and " + (count - children.size()) + " more" : "";
        return way + link.child() + " " + named + more + ": " + link.where() + " forbids it, " + reason;
    }

    @Override
    public String toString() {
        return text();
    }
}
