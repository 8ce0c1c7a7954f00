package dev.vacancy.internal.planning;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.OnDelete;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.StoreTraits;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import java.util.Set;
import org.jgrapht.Graph;
import org.jgrapht.alg.connectivity.KosarajuStrongConnectivityInspector;
import org.jgrapht.alg.cycle.CycleDetector;
import org.jgrapht.graph.AsSubgraph;
import org.jgrapht.graph.DirectedPseudograph;
import org.jgrapht.traverse.TopologicalOrderIterator;

/**
 * Puts deletions into an order that no foreign key objects to: children before parents. Where tables refer to each
 * other in a circle, or one to itself, the checks are put off if the database can do that; else foreign keys that may be
 * null are emptied first, as few of them as open the circle; else the records go level by level, those that nothing
 * points at first. Where the database enforces no links, records in a circle go in any order.
 */
final class StepOrder {
    private final RecordSets sets;
    private final Map<Table, Long> counts;
    private final Set<Table> uncounted;
    private final Rules rules;
    private final StoreTraits traits;
    private final Graph<Table, Link> links = new DirectedPseudograph<>(Link.class);
    private final Set<Table> together = new HashSet<>();
    private boolean deferring;

    /**
     * Looks at the tables that lose records.
     *
     * @param counts how many records of each table go
     * @param uncounted those of which nobody knows yet
     */
    StepOrder(Rules rules, RecordSets sets, Map<Table, Long> counts, Set<Table> uncounted) {
        this.rules = rules;
        this.sets = sets;
        this.traits = sets.store().traits();
        this.counts = counts;
        this.uncounted = uncounted;
        counts.keySet().forEach(links::addVertex);
        rules.catalog().links().stream()
                .filter(link -> link.declared() || !traits.enforcesLinks())
                .filter(link ->
                        !rules.isMarked(link.parent()) || !CatalogLink.of(link).isToItself())
                .filter(link -> counts.containsKey(link.child()) && counts.containsKey(link.parent()))
                .forEach(link -> links.addEdge(link.child(), link.parent(), link));
    }

    /**
     * Returns the deletions in order, with what must be emptied before them.
     *
     * @throws InvalidRequestException when records point at each other in a circle that nothing opens
     */
    List<Step> steps() {
        List<Step> steps = new ArrayList<>();
        List<Set<Table>> circles = childrenFirst(links);
        if (!traits.enforcesLinks()) {
            circles.forEach(circle -> circle.forEach(table -> steps.add(going(table))));
            return steps;
        }
        for (Set<Table> circle : circles) {
            inside(circle).stream().filter(this::goesInOneStatement).forEach(link -> takeTogether(link, circle));
            if (hasCircle(circle, inside(circle))) {
                open(circle, steps);
            }
        }
        // What points into a circle goes before all of it, as a part of it that goes may cascade to another.
        for (Set<Table> circle : circles) {
            childrenFirst(new AsSubgraph<>(links, circle)).forEach(group -> addDeletions(group, steps));
        }
        return steps;
    }

    /** Whether the steps need the checks of foreign keys put off until they are done. */
    boolean deferring() {
        return deferring;
    }

    /** The tables in an order that the links allow, those that go in a circle as one. */
    private static List<Set<Table>> childrenFirst(Graph<Table, Link> links) {
        List<Set<Table>> groups = new ArrayList<>();
        new TopologicalOrderIterator<>(new KosarajuStrongConnectivityInspector<>(links).getCondensation())
                .forEachRemaining(group -> groups.add(new LinkedHashSet<>(group.vertexSet())));
        return groups;
    }

    private List<Link> inside(Set<Table> circle) {
        return links.edgeSet().stream()
                .filter(link -> circle.contains(link.child()) && circle.contains(link.parent()))
                .toList();
    }

    /** Where the check waits for the end of the statement, the records of one table may point at each other. */
    private boolean goesInOneStatement(Link link) {
        if (!CatalogLink.of(link).isToItself() || traits.checksRowByRow()) {
            return false;
        }
        boolean ownWay = traits.actsAfterStatement()
                ? CatalogLink.of(link).onDelete() != OnDelete.RESTRICT
                : CatalogLink.of(link).onDelete() == OnDelete.CASCADE
                        && counts.get(link.child()) <= traits.deepestCascade();
        return ownWay || mayLagBehind(link);
    }

    /**
     * Whether a parent can go before its child. The database's own action then meets the child: a cascade only does what
     * will be done anyway, though level by level, and SQLite gives up a thousand levels down; so where the foreign key can
     * be emptied that is better. To set it to null or to a default fails where that isn't allowed, and RESTRICT always.
     */
    private static boolean mayLagBehind(Link link) {
        return switch (CatalogLink.of(link).onDelete()) {
            case NO_ACTION -> true;
            case CASCADE -> !canBeEmptied(link);
            case SET_NULL, SET_DEFAULT, RESTRICT -> false;
        };
    }

    private void open(Set<Table> circle, List<Step> steps) {
        boolean harmless = inside(circle).stream().allMatch(this::toleratesCascade);
        for (Link link : inside(circle)) {
            if (isDeferred(link)
                    && mayLagBehind(link)
                    && (harmless || CatalogLink.of(link).onDelete() == OnDelete.NO_ACTION)) {
                takeTogether(link, circle);
                deferring = true;
            }
        }
        for (Link link : toLoosen(inside(circle), circle)) {
            links.removeEdge(link);
            loosen(link, steps);
        }
    }

    private boolean isDeferred(Link link) {
        return CatalogLink.of(link).deferrable() && traits.defersChecks();
    }

    /** Whether nothing fails when the parent on a link goes before its turn, taken along by another link's cascade. */
    private boolean toleratesCascade(Link link) {
        return switch (CatalogLink.of(link).onDelete()) {
            case CASCADE -> true;
            case NO_ACTION -> isDeferred(link);
            case SET_NULL -> CatalogLink.of(link).nullable();
            case SET_DEFAULT, RESTRICT -> false;
        };
    }

    /** Lets a parent go before its child; where that cascades, all of the circle may be gone before its turn. */
    private void takeTogether(Link link, Set<Table> circle) {
        links.removeEdge(link);
        together.addAll(
                CatalogLink.of(link).onDelete() == OnDelete.CASCADE ? circle : List.of(link.child(), link.parent()));
    }

    /** Empties the foreign key of all records that go; what those point at that stay doesn't matter, as they go anyway. */
    private void loosen(Link link, List<Step> steps) {
        List<Column> columns =
                link.childColumns().stream().filter(Column::nullable).toList();
        List<Condition> pointing = new ArrayList<>();
        pointing.add(sets.condition(link.child()).orElseThrow());
        columns.forEach(column -> pointing.add(new Condition.Not(new Condition.IsNull(column))));
        Condition condition = new Condition.AllOf(pointing);
        long count = sets.store().count(link.child(), condition);
        if (count > 0) {
            steps.add(new Step.Loosen(link.child(), columns, condition, count));
        }
    }

    /** Chooses the links to empty: all that can be, less those that the circle stays open without. */
    private static List<Link> toLoosen(List<Link> inside, Set<Table> circle) {
        List<Link> kept = new ArrayList<>(
                inside.stream().filter(link -> !canBeEmptied(link)).toList());
        List<Link> loosened = new ArrayList<>();
        for (Link link : inside) {
            if (canBeEmptied(link)) {
                kept.add(link);
                if (hasCircle(circle, kept)) {
                    kept.remove(link);
                    loosened.add(link);
                }
            }
        }
        return loosened;
    }

    private static boolean canBeEmptied(Link link) {
        return link.childColumns().stream().anyMatch(Column::nullable);
    }

    private void addDeletions(Set<Table> group, List<Step> steps) {
        List<Link> firm = inside(group);
        if (firm.isEmpty()) {
            group.forEach(table -> steps.add(going(table)));
        } else {
            steps.addAll(new Levels(sets, firm).deletions(group));
        }
    }

    private Step going(Table table) {
        Condition condition = sets.condition(table).orElseThrow();
        return rules.isMarked(table)
                ? new Step.Mark(table, condition, counts.get(table))
                : new Step.Delete(
                        table,
                        condition,
                        uncounted.contains(table) ? OptionalLong.empty() : OptionalLong.of(counts.get(table)),
                        together.contains(table));
    }

    private static boolean hasCircle(Set<Table> tables, List<Link> links) {
        Graph<Table, Link> graph = new DirectedPseudograph<>(Link.class);
        tables.forEach(graph::addVertex);
        links.forEach(link -> graph.addEdge(link.child(), link.parent(), link));
        return new CycleDetector<>(graph).detectCycles();
    }
}
