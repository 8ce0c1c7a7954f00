package dev.vacancy.plan;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Condition;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.rule.LinkCase;
import dev.vacancy.rule.Rule;
import dev.vacancy.rule.Rules;
import java.time.Clock;
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
import org.jgrapht.Graph;
import org.jgrapht.alg.connectivity.KosarajuStrongConnectivityInspector;
import org.jgrapht.graph.DefaultEdge;
import org.jgrapht.graph.DirectedPseudograph;
import org.jgrapht.traverse.TopologicalOrderIterator;

/**
 * Grows the set of records that go to its fixpoint, along the links that cascade.
 *
 * <p>Tables are taken parents first, so that each link is asked about once however deep the schema is; only where tables
 * refer to each other in a circle is it asked about once for each generation. Keys are read of tables that something
 * links to. Of a leaf table they are not: its records are picked by their parents' keys.
 */
final class Gathering {
    private final Catalog catalog;
    private final Rules rules;
    private final Clock clock;
    private final Lookup lookup;
    private final Map<Table, Going> keyed = new LinkedHashMap<>();
    private final Map<Table, Set<LinkCase>> leaves = new LinkedHashMap<>();
    private final Map<LinkCase, Set<Going.Member>> reached = new LinkedHashMap<>();
    private final Map<LinkCase, Set<Going.Member>> explored = new LinkedHashMap<>();
    private final Map<Link, List<LinkCase>> cases = new LinkedHashMap<>();

    Gathering(Rules rules, Clock clock, Lookup lookup) {
        this.catalog = rules.catalog();
        this.rules = rules;
        this.clock = clock;
        this.lookup = lookup;
    }

    /** Takes a selected record; what is given are the values of the columns that {@link #columnsRead} names. */
    void select(Table root, List<Object> values) {
        keyed.computeIfAbsent(root, this::start).select(values);
    }

    /** What has to be known of each record of a table: its identity, and whatever its children refer to. */
    List<Column> columnsRead(Table table) {
        Set<Column> columns = new LinkedHashSet<>(table.identity());
        catalog.linksTo(table).forEach(link -> columns.addAll(link.parentColumns()));
        return List.copyOf(columns);
    }

    /** Follows the cascading links from the selected records on. */
    void grow() {
        for (Set<Table> circle : parentsFirst(List.copyOf(keyed.keySet()))) {
            Map<Table, Collection<Going.Member>> newest = new LinkedHashMap<>();
            circle.stream()
                    .filter(keyed::containsKey)
                    .forEach(table ->
                            newest.put(table, List.copyOf(keyed.get(table).members())));
            while (!newest.isEmpty()) {
                Map<Table, Collection<Going.Member>> next = new LinkedHashMap<>();
                newest.forEach((table, members) -> follow(table, members, circle, next));
                newest.clear();
                newest.putAll(next);
            }
        }
    }

    /** The tables of which records go: those whose keys were read, in the order in which they were reached. */
    Collection<Going> keyed() {
        return keyed.values();
    }

    /** The tables of which records may go, leaves among them. */
    Set<Table> tables() {
        Set<Table> tables = new LinkedHashSet<>(keyed.keySet());
        tables.addAll(leaves.keySet());
        return tables;
    }

    Going going(Table table) {
        return keyed.get(table);
    }

    /** Whether a record goes, of a table whose keys were read. */
    boolean goes(Table table, Key key) {
        Key wanted = key.comparable();
        return keyed.get(table).members().stream()
                .anyMatch(member -> member.key().comparable().equals(wanted));
    }

    boolean isLeaf(Table table) {
        return leaves.containsKey(table);
    }

    /** Picks the records of a table that go, if any may. */
    Optional<Condition> condition(Table table) {
        if (keyed.containsKey(table)) {
            return Optional.of(keyed.get(table).condition());
        }
        List<Condition> ways = leaves.getOrDefault(table, Set.of()).stream()
                .map(way -> way.among(childrenOn(way.rule().link())))
                .toList();
        return ways.size() > 1
                ? Optional.of(new Condition.AnyOf(ways))
                : ways.stream().findFirst();
    }

    /** Picks the children on a link of the records that go, whether they go themselves or not. */
    Condition childrenOn(Link link) {
        Going parents = keyed.get(link.parent());
        return parents.childrenOf(parents.members(), link);
    }

    /** The clauses on a link as they apply now. */
    List<LinkCase> casesOf(Link link) {
        return cases.computeIfAbsent(link, missing -> rules.casesOf(link, clock));
    }

    /** How many children were reached over a cascading clause to a table whose keys were read. */
    long reachedOver(LinkCase way) {
        return reached.getOrDefault(way, Set.of()).size();
    }

    /** The record whose child on a link holds this foreign key, if it goes. */
    Optional<Going.Member> parentOn(Link link, List<Object> foreignKey) {
        Going parents = keyed.get(link.parent());
        Key reference = new Key(link.childColumns(), foreignKey).comparable();
        return Optional.ofNullable(parents.byReference(parents.members(), link).get(reference));
    }

    private void follow(
            Table table,
            Collection<Going.Member> members,
            Set<Table> circle,
            Map<Table, Collection<Going.Member>> next) {
        for (Link link : catalog.linksTo(table)) {
            if (!link.declared() && rules.of(link).stream().anyMatch(clause -> clause.rule() != Rule.KEEP)) {
                lookup.keepOut(link.child());
            }
            for (LinkCase way : casesOf(link)) {
                if (way.rule().rule() == Rule.CASCADE) {
                    follow(way, members, circle, next);
                }
            }
        }
    }

    private void follow(
            LinkCase way,
            Collection<Going.Member> members,
            Set<Table> circle,
            Map<Table, Collection<Going.Member>> next) {
        Table child = way.rule().link().child();
        if (catalog.linksTo(child).isEmpty() && !keyed.containsKey(child)) {
            leaves.computeIfAbsent(child, missing -> new LinkedHashSet<>()).add(way);
            return;
        }
        List<Going.Member> found = readChildren(way, members);
        if (circle.contains(child) && !found.isEmpty()) {
            next.merge(child, found, Gathering::joined);
        }
    }

    private List<Going.Member> readChildren(LinkCase way, Collection<Going.Member> parents) {
        return way.rule().link().isToItself() ? readDescendants(way, parents) : readNextGeneration(way, parents);
    }

    private List<Going.Member> readNextGeneration(LinkCase way, Collection<Going.Member> parents) {
        Link link = way.rule().link();
        Going home = keyed.get(link.parent());
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
        Going home = keyed.get(link.parent());
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
        boolean complete = generations.size() < lookup.deepestRecursion();
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
        Going home = keyed.get(link.child());
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
        return generations;
    }

    private List<Going.Member> add(LinkCase way, List<List<Object>> rows, Map<Key, Going.Member> parents) {
        Link link = way.rule().link();
        int width = columnsRead(link.child()).size();
        Going children = keyed.computeIfAbsent(link.child(), this::start);
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

    /** The groups of tables that cascade into each other in a circle, most of them single tables, parents first. */
    private List<Set<Table>> parentsFirst(List<Table> roots) {
        Graph<Table, DefaultEdge> cascades = new DirectedPseudograph<>(DefaultEdge.class);
        roots.forEach(root -> reach(root, cascades));
        List<Set<Table>> groups = new ArrayList<>();
        new TopologicalOrderIterator<>(new KosarajuStrongConnectivityInspector<>(cascades).getCondensation())
                .forEachRemaining(group -> groups.add(group.vertexSet()));
        return groups;
    }

    private void reach(Table table, Graph<Table, DefaultEdge> cascades) {
        if (!cascades.addVertex(table)) {
            return;
        }
        for (Link link : catalog.linksTo(table)) {
            if (rules.mayCascade(link)) {
                reach(link.child(), cascades);
                cascades.addEdge(table, link.child());
            }
        }
    }

    private static Collection<Going.Member> joined(Collection<Going.Member> first, Collection<Going.Member> second) {
        List<Going.Member> all = new ArrayList<>(first);
        all.addAll(second);
        return all;
    }
}
