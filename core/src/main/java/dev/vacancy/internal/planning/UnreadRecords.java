package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.store.RecordStore;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Records whose keys aren't held: those of a leaf, to which nothing links, and those of which there are too many. They are picked by a
 * condition, which nests from the selection down.
 */
final class UnreadRecords implements RecordSet {
    private final Table table;
    private final Set<LinkCase> ways;
    private final RecordSets sets;
    private final Optional<Condition> selected;
    private Optional<RecordStore.Tally> tally = Optional.empty();

    /** The children of others that go. */
    UnreadRecords(Table table, Set<LinkCase> ways, RecordSets sets) {
        this(table, ways, sets, Optional.empty());
    }

    /** Selected records. In no circle, none of them is reached by another. */
    UnreadRecords(Table table, Set<LinkCase> ways, RecordSets sets, Roots.Unheld selected) {
        this(table, ways, sets, Optional.of(selected.condition()));
        count(selected.keys().tally());
    }

    private UnreadRecords(Table table, Set<LinkCase> ways, RecordSets sets, Optional<Condition> selected) {
        this.table = table;
        this.ways = ways;
        this.sets = sets;
        this.selected = selected;
    }

    /** Whether they were selected themselves. */
    boolean isSelected() {
        return selected.isPresent();
    }

    /** Notes how many there are. */
    void count(RecordStore.Tally counted) {
        tally = Optional.of(counted);
    }

    @Override
    public Table table() {
        return table;
    }

    @Override
    public Set<LinkCase> ways() {
        return ways;
    }

    @Override
    public Optional<Condition> condition() {
        return selected.or(() -> Condition.anyOf(ways.stream()
                .map(way -> way.among(sets.childrenOn(way.rule().link())))
                .toList()));
    }

    @Override
    public Optional<RecordStore.Tally> tally() {
        return tally;
    }

    @Override
    public Condition childrenOn(Link link) {
        return new Condition.OfManyParents(link, condition().orElseThrow());
    }

    @Override
    public long reachedOver(LinkCase way) {
        return 0;
    }

    /** Walks up from the few children that are shown to the selected records. */
    @Override
    public List<List<String>> waysTo(Link link, List<List<Object>> rows) {
        int width = link.child().identity().size();
        List<List<Object>> children = rows.stream()
                .map(row -> List.copyOf(row.subList(0, width)))
                .filter(identity -> !identity.isEmpty())
                .toList();
        Map<List<Object>, List<Object>> parents = new LinkedHashMap<>();
        if (!children.isEmpty()) {
            sets.store()
                    .parents(link, children)
                    .forEach(row -> parents.put(
                            List.copyOf(row.subList(0, width)), List.copyOf(row.subList(width, row.size()))));
        }
        Map<List<Object>, List<String>> above = above(List.copyOf(parents.values()));
        return rows.stream()
                .map(row -> parents.get(row.subList(0, width)))
                .map(parent -> parent == null ? List.<String>of() : above.getOrDefault(parent, List.of()))
                .toList();
    }

    /** The way to each of some of these records, the record itself at its end. */
    private Map<List<Object>, List<String>> above(List<List<Object>> identities) {
        Map<List<Object>, List<String>> above = new LinkedHashMap<>();
        if (ways.isEmpty()) {
            identities.forEach(identity -> above.put(identity, List.of(named(identity))));
        }
        for (LinkCase way : ways) {
            Link link = way.rule().link();
            List<List<Object>> open = identities.stream()
                    .filter(identity -> !above.containsKey(identity))
                    .toList();
            if (open.isEmpty()) {
                break;
            }
            List<Column> columns = new ArrayList<>(table.identity());
            columns.addAll(link.childColumns());
            List<List<Object>> rows = sets.store()
                    .records(
                            table,
                            columns,
                            new Condition.AllOf(List.of(
                                    new Condition.Among(table.identity(), open), way.among(sets.childrenOn(link)))));
            List<List<String>> toParents = sets.waysTo(link, rows);
            for (int i = 0; i < rows.size(); i++) {
                List<Object> identity =
                        List.copyOf(rows.get(i).subList(0, table.identity().size()));
                List<String> whole = new ArrayList<>(toParents.get(i));
                whole.add(named(identity));
                above.put(identity, List.copyOf(whole));
            }
        }
        return above;
    }

    private String named(List<Object> identity) {
        return table.name() + " " + new RecordKey(table.identity(), identity).text();
    }
}
