package dev.vacancy.plan;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.rule.LinkCase;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Reads the children of records that go, and adds them to those, each with the record that takes it along. */
final class Descent {
    private final Catalog catalog;
    private final Lookup lookup;
    private final Map<Table, Going> going;
    private final Map<LinkCase, Set<Going.Member>> reached = new LinkedHashMap<>();
    private final Map<LinkCase, Set<Going.Member>> explored = new LinkedHashMap<>();

    /**
     * Begins a descent.
     *
     * @param going the records that go, by table; children are added to them
     */
    Descent(Catalog catalog, Lookup lookup, Map<Table, Going> going) {
        this.catalog = catalog;
        this.lookup = lookup;
        this.going = going;
    }

    /** The records of a table that go, none at first. */
    Going going(Table table) {
        return going.computeIfAbsent(table, this::start);
    }

    /** What has to be known of each record of a table: its identity, and whatever its children refer to. */
    List<Column> columnsRead(Table table) {
        Set<Column> columns = new LinkedHashSet<>(table.identity());
        catalog.linksTo(table).forEach(link -> columns.addAll(link.parentColumns()));
        return List.copyOf(columns);
    }

    /** How many children were reached over a cascading clause. */
    long reachedOver(LinkCase way) {
        return reached.getOrDefault(way, Set.of()).size();
    }

    /** Reads the children of some records over a cascading clause; returns those that go newly. */
    List<Going.Member> children(LinkCase way, Collection<Going.Member> parents) {
        return way.rule().link().isToItself() ? readDescendants(way, parents) : readNextGeneration(way, parents);
    }

    private List<Going.Member> readNextGeneration(LinkCase way, Collection<Going.Member> parents) {
        Link link = way.rule().link();
        Going home = going.get(link.parent());
        List<List<Object>> rows =
                lookup.records(link.child(), columnsRead(link), way.among(home.childrenOf(parents, link)));
        return rows.isEmpty() ? List.of() : add(way, rows, home.byReference(parents, link));
    }

    /**
     * Reads the generations below some records of one table at once, as many as the database goes down in one query. For
     * a run they are read again to be locked, and once more for what was added meanwhile.
     */
    private List<Going.Member> readDescendants(LinkCase way, Collection<Going.Member> parents) {
        Link link = way.rule().link();
        Going home = going.get(link.parent());
        Set<Going.Member> known = explored.computeIfAbsent(way, missing -> new HashSet<>());
        List<Going.Member> open =
                parents.stream().filter(member -> !known.contains(member)).toList();
        if (open.isEmpty()) {
            return List.of();
        }
        List<List<Object>> rows =
                lookup.descendants(link, columnsRead(link), way.among(home.childrenOf(open, link)), way.only());
        known.addAll(open);
        List<List<Going.Member>> generations = addInGenerations(way, rows, home.byReference(open, link));
        List<Going.Member> found =
                generations.stream().flatMap(List::stream).collect(Collectors.toCollection(ArrayList::new));
        boolean traced = found.stream().noneMatch(member -> member.because().isEmpty());
        boolean complete = traced && generations.size() < lookup.deepestRecursion();
        known.addAll(
                complete
                        ? found
                        : found.subList(0, found.size() - last(generations).size()));
        if (lookup.locking() && !found.isEmpty()) {
            lookup.records(link.child(), link.child().identity(), Going.condition(link.child(), found));
            found.addAll(readNextGeneration(way, List.copyOf(found)));
        }
        return found;
    }

    private static List<Going.Member> last(List<List<Going.Member>> generations) {
        return generations.get(generations.size() - 1);
    }

    /** Adds records in any order so that each finds the one it hangs on; returns the new ones by generation. */
    private List<List<Going.Member>> addInGenerations(
            LinkCase way, List<List<Object>> rows, Map<Key, Going.Member> firstParents) {
        Link link = way.rule().link();
        Going home = going.get(link.child());
        Map<Key, List<List<Object>>> waiting = new LinkedHashMap<>();
        rows.forEach(row -> waiting.computeIfAbsent(foreignKey(link, row), missing -> new ArrayList<>())
                .add(row));
        List<List<Going.Member>> generations = new ArrayList<>();
        Map<Key, Going.Member> parents = firstParents;
        while (!parents.isEmpty()) {
            List<List<Object>> generation = new ArrayList<>();
            parents.keySet()
                    .forEach(key -> Optional.ofNullable(waiting.remove(key)).ifPresent(generation::addAll));
            List<Going.Member> found = add(way, generation, parents);
            if (!found.isEmpty()) {
                generations.add(found);
            }
            parents = home.byReference(found, link);
        }
        if (!waiting.isEmpty()) {
            // The database takes these for children too, by a collation that Java doesn't know.
            generations.add(
                    add(way, waiting.values().stream().flatMap(List::stream).toList(), Map.of()));
        }
        return generations;
    }

    private List<Going.Member> add(LinkCase way, List<List<Object>> rows, Map<Key, Going.Member> parents) {
        Link link = way.rule().link();
        int width = columnsRead(link.child()).size();
        Going children = going(link.child());
        Set<Going.Member> onThisWay = reached.computeIfAbsent(way, missing -> new HashSet<>());
        List<Going.Member> found = new ArrayList<>();
        for (List<Object> row : rows) {
            Optional<Going.Member> because = Optional.ofNullable(parents.get(foreignKey(link, row)));
            children.add(row.subList(0, width), because).ifPresent(found::add);
            onThisWay.add(children.member(row.subList(0, link.child().identity().size())));
        }
        return found;
    }

    /** What has to be known of the children on a link: what is known of any record, and the foreign key behind it. */
    private List<Column> columnsRead(Link link) {
        List<Column> columns = new ArrayList<>(columnsRead(link.child()));
        columns.addAll(link.childColumns());
        return columns;
    }

    private static Key foreignKey(Link link, List<Object> row) {
        List<Column> columns = link.childColumns();
        return new Key(columns, row.subList(row.size() - columns.size(), row.size())).comparable();
    }

    private Going start(Table table) {
        if (table.identity().isEmpty()) {
            throw new InvalidRequestException(
                    "Records of " + table.name() + " would go and other tables link to it, but it has neither a primary"
                            + " key nor a unique key without nulls.",
                    "Give " + table.name() + " a primary key.");
        }
        return new Going(table, columnsRead(table));
    }
}
