package dev.vacancy;

import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;

/**
 * Child records on one link that forbid the deletion.
 *
 * @param link the link to the parent that would go
 * @param reason why they forbid it, as a clause that can follow "because"
 * @param count how many there are
 * @param children the first few of them, by key; none in a plan made for a run
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
     * @param table the table it belongs to
     * @param record the child
     * @param way the records between the selected one, which comes first, and the child, each with its table's name
     */
    public record Child(Table table, Sample record, List<String> way) {
        /** Keeps its own copy of the way. */
        public Child {
            way = List.copyOf(way);
        }

        /**
         * Returns the way and the child at its end.
         *
         * @return such as {@code apiary 1 → hive 4 → batch_hive (2, 4)}
         */
        public String text() {
            String start = way.isEmpty() ? "" : String.join(" → ", way) + " → ";
            return start + table + " " + record;
        }
    }

    /**
     * Says what forbids the deletion and why.
     *
     * @return such as {@code 12 records of batch_hive forbid it by batch_hive.hive_id: the schema says ON DELETE NO
     *     ACTION}
     */
    public String text() {
        String who = String.format(Locale.ROOT, "%,d %s of %s", count, count == 1 ? "record" : "records", link.child());
        return who + (count == 1 ? " forbids it by " : " forbid it by ") + link.where() + ": " + reason;
    }

    /**
     * Returns how many children forbid the deletion beyond those that are named.
     *
     * @return 0 or more
     */
    public long unnamed() {
        return count - children.size();
    }

    @Override
    public String toString() {
        return children.isEmpty()
                ? text()
                : text() + children.stream().map(Child::text).collect(Collectors.joining("; ", " (", ")"));
    }
}
