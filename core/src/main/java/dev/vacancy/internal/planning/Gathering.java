package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.rule.Rule;
import dev.vacancy.rule.Rules;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
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
    private final Map<Table, DoomedRecords> keyed = new LinkedHashMap<>();
    private final Map<Table, Set<LinkCase>> leaves = new LinkedHashMap<>();
    private final Descent descent;
    private final Map<Link, List<LinkCase>> cases = new LinkedHashMap<>();

    Gathering(Rules rules, Clock clock, Lookup lookup) {
        this.catalog = rules.catalog();
        this.rules = rules;
        this.clock = clock;
        this.lookup = lookup;
        this.descent = new Descent(catalog, lookup, keyed);
    }

    /** Takes a selected record; what is given are the values of the columns that {@link #columnsRead} names. */
    void select(Table root, List<Object> values) {
        descent.recordsOf(root).select(values);
    }

    /** What has to be known of each record of a table: its identity, and whatever its children refer to. */
    List<Column> columnsRead(Table table) {
        return descent.columnsRead(table);
    }

    /** Follows the cascading links from the selected records on. */
    void grow() {
        for (Set<Table> circle : parentsFirst(List.copyOf(keyed.keySet()))) {
            Map<Table, Collection<DoomedRecords.Member>> newest = new LinkedHashMap<>();
            circle.stream()
                    .filter(keyed::containsKey)
                    .forEach(table ->
                            newest.put(table, List.copyOf(keyed.get(table).members())));
            while (!newest.isEmpty()) {
                Map<Table, Collection<DoomedRecords.Member>> next = new LinkedHashMap<>();
                newest.forEach((table, members) -> follow(table, members, circle, next));
                newest.clear();
                newest.putAll(next);
            }
        }
    }

    /** The tables of which records go: those whose keys were read, in the order in which they were reached. */
    Collection<DoomedRecords> keyed() {
        return keyed.values();
    }

    /** The tables of which records may go, leaves among them. */
    Set<Table> tables() {
        Set<Table> tables = new LinkedHashSet<>(keyed.keySet());
        tables.addAll(leaves.keySet());
        return tables;
    }

    DoomedRecords recordsOf(Table table) {
        return keyed.get(table);
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
        return Condition.anyOf(ways);
    }

    /** Picks the children on a link of the records that go, whether they go themselves or not. */
    Condition childrenOn(Link link) {
        DoomedRecords parents = keyed.get(link.parent());
        return parents.childrenOf(parents.members(), link);
    }

    /** The clauses on a link as they apply now. */
    List<LinkCase> casesOf(Link link) {
        return cases.computeIfAbsent(link, missing -> LinkCase.of(link, rules, clock));
    }

    /** How many children were reached over a cascading clause to a table whose keys were read. */
    long reachedOver(LinkCase way) {
        return descent.reachedOver(way);
    }

    /**
     * Finds the records that are the parents of some children on a link.
     *
     * @param rows of each child its identity first, if its table has one, and its foreign key last
     * @return for each row the parent, in order; empty if it doesn't go, or nobody knows
     */
    List<Optional<DoomedRecords.Member>> parentsOn(Link link, List<List<Object>> rows) {
        DoomedRecords home = keyed.get(link.parent());
        return new Parentage(lookup).of(link, rows, home.byReference(home.members(), link), home);
    }

    private void follow(
            Table table,
            Collection<DoomedRecords.Member> members,
            Set<Table> circle,
            Map<Table, Collection<DoomedRecords.Member>> next) {
        for (Link link : catalog.linksTo(table)) {
            if (!link.isEnforced() && rules.of(link).stream().anyMatch(clause -> clause.rule() != Rule.KEEP)) {
                lookup.lockTable(link.child());
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
            Collection<DoomedRecords.Member> members,
            Set<Table> circle,
            Map<Table, Collection<DoomedRecords.Member>> next) {
        Table child = way.rule().link().child();
        if (catalog.linksTo(child).isEmpty() && !keyed.containsKey(child)) {
            leaves.computeIfAbsent(child, missing -> new LinkedHashSet<>()).add(way);
            return;
        }
        List<DoomedRecords.Member> found = descent.children(way, members);
        if (circle.contains(child) && !found.isEmpty()) {
            next.merge(child, found, Gathering::joined);
        }
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

    private static Collection<DoomedRecords.Member> joined(
            Collection<DoomedRecords.Member> first, Collection<DoomedRecords.Member> second) {
        List<DoomedRecords.Member> all = new ArrayList<>(first);
        all.addAll(second);
        return all;
    }
}
