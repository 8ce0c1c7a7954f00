package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.rule.Rule;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
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
 * refer to each other in a circle is it asked about once for each generation. Keys are held of tables that something
 * links to. Of a leaf table they are not, and neither of one of which too many records go: its records are picked by those
 * of their parents, by conditions that nest. In a circle that wouldn't do; there all keys are held.
 */
final class Gathering {
    private final DatabaseCatalog catalog;
    private final Rules rules;
    private final Clock clock;
    private final Lookup lookup;
    private final long mostKeys;
    private final Set<Table> circular;
    private final Map<Table, RecordsToDelete> keyed = new LinkedHashMap<>();
    private final Map<Table, Set<LinkCase>> ways = new LinkedHashMap<>();
    private final Set<Table> unread = new LinkedHashSet<>();
    private final Map<Table, KeyDigest> digests = new LinkedHashMap<>();
    private final Map<Table, Long> counted = new LinkedHashMap<>();
    private final Set<Table> reached = new LinkedHashSet<>();
    private Optional<Table> selected = Optional.empty();
    private Optional<Condition> selectedBy = Optional.empty();
    private final Descent descent;
    private final Map<Link, List<LinkCase>> cases = new LinkedHashMap<>();

    /**
     * Gathers nothing yet.
     *
     * @param mostKeys of how many records of a table, beside the selected ones, the keys are held
     */
    Gathering(Rules rules, Clock clock, Lookup lookup, long mostKeys) {
        this.catalog = rules.catalog();
        this.rules = rules;
        this.clock = clock;
        this.lookup = lookup;
        this.mostKeys = mostKeys;
        this.circular = catalog.circular();
        this.descent = new Descent(catalog, lookup, keyed);
    }

    /** Takes a selected record; what is given are the values of the columns that a {@link Descent} reads. */
    void select(Table root, List<Object> values) {
        reached.add(root);
        descent.recordsOf(root).select(values);
    }

    /** Takes selected records whose keys aren't held. */
    void select(Table root, Roots.Unheld records) {
        reached.add(root);
        unread.add(root);
        selected = Optional.of(root);
        selectedBy = Optional.of(records.condition());
        digests.put(root, records.keys());
    }

    /** Follows the cascading links from the selected records on. */
    void grow() {
        for (Set<Table> circle : parentsFirst(List.copyOf(reached))) {
            circle.stream()
                    .filter(table -> unread.contains(table) && !isLeaf(table))
                    .forEach(this::followUnread);
            Map<Table, Collection<RecordsToDelete.Member>> newest = new LinkedHashMap<>();
            circle.stream()
                    .filter(keyed::containsKey)
                    .forEach(table ->
                            newest.put(table, List.copyOf(keyed.get(table).members())));
            while (!newest.isEmpty()) {
                Map<Table, Collection<RecordsToDelete.Member>> next = new LinkedHashMap<>();
                newest.forEach((table, members) -> follow(table, members, circle, next));
                newest.clear();
                newest.putAll(next);
            }
        }
    }

    /** The tables of which records may go, in the order in which they were reached. */
    Set<Table> tables() {
        Set<Table> tables = new LinkedHashSet<>(reached);
        tables.removeIf(table -> !keyed.containsKey(table) && !unread.contains(table));
        return tables;
    }

    /** Digests the keys of the records of a table that go, if they were read but not held. */
    Optional<KeyDigest> digestOf(Table table) {
        return Optional.ofNullable(digests.get(table));
    }

    /** How many records of a table go, if they were locked and counted without being read. */
    Optional<Long> countOf(Table table) {
        return Optional.ofNullable(counted.get(table));
    }

    /**
     * Whether the statement that deletes the records of a table could be the first to count them: nothing hangs on them, all children of
     * the records that go are theirs, and nobody is asked.
     */
    boolean canBeCountedByDeleting(Table table) {
        return lookup.countsByDeleting()
                && isUnread(table)
                && isLeaf(table)
                && !isSelected(table)
                && !rules.isMarked(table)
                && rules.consent(table).isEmpty()
                && catalog.access(table).delete()
                && catalog.linksFrom(table).stream()
                        .filter(link -> reached.contains(link.parent()))
                        .allMatch(this::takesAll);
    }

    private boolean takesAll(Link link) {
        List<LinkCase> on = casesOf(link);
        return on.size() == 1
                && on.get(0).rule().rule() == Rule.CASCADE
                && on.get(0).only().isEmpty();
    }

    RecordsToDelete recordsOf(Table table) {
        return keyed.get(table);
    }

    /** Whether the keys of the records of a table that go aren't held. */
    boolean isUnread(Table table) {
        return unread.contains(table);
    }

    /** Picks the records of a table that go, if any may. */
    Optional<Condition> condition(Table table) {
        if (keyed.containsKey(table)) {
            return Optional.of(keyed.get(table).condition());
        }
        if (isSelected(table)) {
            return selectedBy;
        }
        return unread.contains(table)
                ? Condition.anyOf(ways.get(table).stream()
                        .map(way -> way.among(childrenOn(way.rule().link())))
                        .toList())
                : Optional.empty();
    }

    /** Picks the children on a link of the records that go, whether they go themselves or not. */
    Condition childrenOn(Link link) {
        RecordsToDelete parents = keyed.get(link.parent());
        return parents == null
                ? new Condition.OfManyParents(link, condition(link.parent()).orElseThrow())
                : childrenOn(link, parents.members());
    }

    private Condition childrenOn(Link link, Collection<RecordsToDelete.Member> parents) {
        return keyed.get(link.parent()).childrenOf(parents, link);
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
    List<Optional<RecordsToDelete.Member>> parentsOn(Link link, List<List<Object>> rows) {
        RecordsToDelete home = keyed.get(link.parent());
        return new Parentage(lookup).of(link, rows, home.byReference(home.members(), link), home);
    }

    /**
     * Names the records that lead from a selected one to the parent of each of some children on a link.
     *
     * @param rows of each child its identity first, if its table has one, and its foreign key last
     * @return for each row the way, in order; empty if nobody knows
     */
    List<List<String>> waysTo(Link link, List<List<Object>> rows) {
        return unread.contains(link.parent())
                ? new UnreadWays(this, lookup).to(link, rows)
                : parentsOn(link, rows).stream()
                        .map(parent -> parent.map(RecordsToDelete.Member::way).orElse(List.of()))
                        .toList();
    }

    /** The cascading clauses over which records of a table were reached. */
    Set<LinkCase> waysInto(Table table) {
        return ways.getOrDefault(table, Set.of());
    }

    private void follow(
            Table table,
            Collection<RecordsToDelete.Member> members,
            Set<Table> circle,
            Map<Table, Collection<RecordsToDelete.Member>> next) {
        for (LinkCase way : cascadesFrom(table)) {
            Table child = reach(way);
            if (isLeaf(child)) {
                unread.add(child);
            } else if (!unread.contains(child)) {
                List<RecordsToDelete.Member> found = read(way, members);
                if (circle.contains(child) && !found.isEmpty()) {
                    next.merge(child, found, Gathering::joined);
                }
            }
        }
    }

    /** The records of a table without keys can't be followed one by one, so all that hangs on them stays unread as well. */
    private void followUnread(Table table) {
        if (!isSelected(table) && ways.get(table).size() > 1) {
            count(table);
        }
        for (LinkCase way : cascadesFrom(table)) {
            Table child = reach(way);
            if (circular.contains(child)) {
                descent.childrenOfUnread(way, childrenOn(way.rule().link()));
            } else {
                leaveUnread(child);
                if (!isLeaf(child)) {
                    count(child);
                }
            }
        }
    }

    private List<RecordsToDelete.Member> read(LinkCase way, Collection<RecordsToDelete.Member> members) {
        Table child = way.rule().link().child();
        if (way.rule().lastOnly()) {
            return lastOnly(way, members);
        }
        if (circular.contains(child)) {
            return descent.children(way, members);
        }
        CatalogTable.of(child).requireIdentity();
        OptionalLong locked =
                lookup.lockedCount(child, way.among(childrenOn(way.rule().link(), members)));
        if (locked.isPresent()) {
            if (locked.getAsLong() > 0) {
                leaveUnread(child);
                counted.put(child, locked.getAsLong());
            }
            return List.of();
        }
        KeyDigest digest = new KeyDigest();
        Optional<List<RecordsToDelete.Member>> found = descent.childrenUpTo(mostKeys, way, members, digest);
        if (found.isEmpty()) {
            leaveUnread(child);
            digests.put(child, digest);
        }
        return found.orElse(List.of());
    }

    /**
     * The records to which only such point as go. They are locked first, so that nobody can add another that does, and looked at then. Those of
     * which the last one is found later come with that.
     */
    private List<RecordsToDelete.Member> lastOnly(LinkCase way, Collection<RecordsToDelete.Member> members) {
        Link turned = way.rule().link();
        Table owned = turned.child();
        CatalogTable.of(owned).requireIdentity();
        if (lookup.locking()) {
            lookup.records(owned, owned.identity(), way.among(childrenOn(turned, members)));
        }
        List<Condition> others = new ArrayList<>();
        others.add(new Condition.Except(keyed.get(turned.parent()).condition()));
        if (rules.isMarked(turned.parent())) {
            rules.active(turned.parent())
                    .map(criteria -> Resolution.of(criteria, turned.parent(), catalog, clock))
                    .ifPresent(others::add);
        }
        return descent.children(
                way,
                members,
                new Condition.Except(
                        new Condition.OfChildren(catalog.turnedRound(turned), new Condition.AllOf(others))));
    }

    /** Whether the records of a table were selected, and not held. In no circle, none of them is reached by another. */
    private boolean isSelected(Table table) {
        return selected.isPresent() && selected.get().equals(table);
    }

    private void leaveUnread(Table table) {
        keyed.remove(table);
        unread.add(table);
    }

    /** Locks the records of a table that go, if this is for a run, and counts them; reads their keys where those matter. */
    private void count(Table table) {
        Condition going = condition(table).orElseThrow();
        OptionalLong locked = lookup.lockedCount(table, going);
        if (locked.isPresent()) {
            counted.put(table, locked.getAsLong());
            return;
        }
        KeyDigest digest = new KeyDigest();
        lookup.eachRecord(table, table.identity(), going, row -> digest.add(table.identity(), row));
        digests.put(table, digest);
    }

    /** Children of a table without a key can't be told apart, and needn't be. */
    private boolean isLeaf(Table table) {
        return catalog.linksTo(table).isEmpty() && !keyed.containsKey(table);
    }

    private Table reach(LinkCase way) {
        Table child = way.rule().link().child();
        reached.add(child);
        ways.computeIfAbsent(child, missing -> new LinkedHashSet<>()).add(way);
        return child;
    }

    private List<LinkCase> cascadesFrom(Table table) {
        List<LinkCase> cascades = new ArrayList<>();
        for (Link link : catalog.linksTo(table)) {
            if (!CatalogLink.of(link).isEnforced()
                    && rules.of(link).stream().anyMatch(clause -> clause.rule() != Rule.KEEP)) {
                lookup.lockTable(link.child());
            }
            casesOf(link).stream()
                    .filter(way -> way.rule().rule() == Rule.CASCADE)
                    .forEach(cascades::add);
        }
        return cascades;
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

    private static Collection<RecordsToDelete.Member> joined(
            Collection<RecordsToDelete.Member> first, Collection<RecordsToDelete.Member> second) {
        List<RecordsToDelete.Member> all = new ArrayList<>(first);
        all.addAll(second);
        return all;
    }
}
