package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.condition.Condition;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Walks up from the few children that are shown to the selected records, through tables whose keys aren't held. */
final class UnreadWays {
    private final Gathering gathering;
    private final Lookup lookup;

    UnreadWays(Gathering gathering, Lookup lookup) {
        this.gathering = gathering;
        this.lookup = lookup;
    }

    /**
     * Names the records that lead to the parent of each of some children on a link.
     *
     * @param rows of each child its identity first, if its table has one, and its foreign key last
     * @return for each row the way, in order; empty if nobody knows
     */
    List<List<String>> to(Link link, List<List<Object>> rows) {
        int width = link.child().identity().size();
        List<List<Object>> children = rows.stream()
                .map(row -> List.copyOf(row.subList(0, width)))
                .filter(identity -> !identity.isEmpty())
                .toList();
        Map<List<Object>, List<Object>> parents = new LinkedHashMap<>();
        if (!children.isEmpty()) {
            lookup.parents(link, children)
                    .forEach(row -> parents.put(
                            List.copyOf(row.subList(0, width)), List.copyOf(row.subList(width, row.size()))));
        }
        Map<List<Object>, List<String>> ways = above(link.parent(), List.copyOf(parents.values()));
        return rows.stream()
                .map(row -> parents.get(row.subList(0, width)))
                .map(parent -> parent == null ? List.<String>of() : ways.getOrDefault(parent, List.of()))
                .toList();
    }

    /** The way to each of some records of an unread table, the record itself at its end. */
    private Map<List<Object>, List<String>> above(Table table, List<List<Object>> identities) {
        Map<List<Object>, List<String>> ways = new LinkedHashMap<>();
        if (gathering.waysInto(table).isEmpty()) {
            identities.forEach(identity -> ways.put(identity, List.of(named(table, identity))));
        }
        for (LinkCase way : gathering.waysInto(table)) {
            Link link = way.rule().link();
            List<List<Object>> open = identities.stream()
                    .filter(identity -> !ways.containsKey(identity))
                    .toList();
            if (open.isEmpty()) {
                break;
            }
            List<Column> columns = new ArrayList<>(table.identity());
            columns.addAll(link.childColumns());
            List<List<Object>> rows = lookup.records(
                    table,
                    columns,
                    new Condition.AllOf(List.of(
                            new Condition.Among(table.identity(), open), way.among(gathering.childrenOn(link)))));
            List<List<String>> toParents = gathering.waysTo(link, rows);
            for (int i = 0; i < rows.size(); i++) {
                List<Object> identity =
                        List.copyOf(rows.get(i).subList(0, table.identity().size()));
                List<String> whole = new ArrayList<>(toParents.get(i));
                whole.add(named(table, identity));
                ways.put(identity, List.copyOf(whole));
            }
        }
        return ways;
    }

    private static String named(Table table, List<Object> identity) {
        return table.name() + " " + new RecordKey(table.identity(), identity).text();
    }
}
