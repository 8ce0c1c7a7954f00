package dev.vacancy.plan;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Condition;
import dev.vacancy.failure.InvalidRequestException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.ToLongFunction;
import java.util.stream.Collectors;
import org.jgrapht.Graph;
import org.jgrapht.alg.connectivity.KosarajuStrongConnectivityInspector;
import org.jgrapht.alg.cycle.CycleDetector;
import org.jgrapht.graph.DirectedPseudograph;
import org.jgrapht.traverse.TopologicalOrderIterator;

/**
 * Puts deletions into an order that no foreign key objects to: children before parents. Where tables refer to each
 * other in a circle, or one to itself, foreign keys that may be null are emptied first, as few of them as open it.
 */
final class StepOrder {
    private final Gathering gathering;
    private final Map<Table, Long> counts;
    private final Graph<Table, Link> links = new DirectedPseudograph<>(Link.class);

    /**
     * Looks at the tables that lose records.
     *
     * @param counts how many records of each table go; none is 0
     */
    StepOrder(Catalog catalog, Gathering gathering, Map<Table, Long> counts) {
        this.gathering = gathering;
        this.counts = counts;
        counts.keySet().forEach(links::addVertex);
        catalog.links().stream()
                .filter(Link::declared)
                .filter(link -> counts.containsKey(link.child()) && counts.containsKey(link.parent()))
                .forEach(link -> links.addEdge(link.child(), link.parent(), link));
    }

    /**
     * Returns the deletions in order, with what must be emptied before them.
     *
     * @param tally counts the records that meet a condition
     * @throws InvalidRequestException when a circle has no foreign key that may be null
     */
    List<Step> steps(ToLongFunction<Step.Loosen> tally) {
        List<Step> loosened = new ArrayList<>();
        for (Set<Table> circle : new KosarajuStrongConnectivityInspector<>(links).stronglyConnectedSets()) {
            for (Link link : toLoosen(circle)) {
                links.removeEdge(link);
                Step.Loosen step = loosen(link);
                long count = tally.applyAsLong(step);
                if (count > 0) {
                    loosened.add(new Step.Loosen(step.table(), step.columns(), step.condition(), count));
                }
            }
        }
        List<Step> steps = new ArrayList<>(loosened);
        new TopologicalOrderIterator<>(links).forEachRemaining(table -> steps.add(delete(table)));
        return steps;
    }

    private Step.Delete delete(Table table) {
        return new Step.Delete(table, gathering.condition(table).orElseThrow(), counts.get(table));
    }

    private Step.Loosen loosen(Link link) {
        List<Column> columns =
                link.childColumns().stream().filter(Column::nullable).toList();
        Condition going = gathering.condition(link.child()).orElseThrow();
        Condition pointing = new Condition.AllOf(List.of(gathering.childrenOn(link), going));
        return new Step.Loosen(link.child(), columns, pointing, 0);
    }

    /** Chooses the links to empty: all that can be, less those that the circle stays open without. */
    private List<Link> toLoosen(Set<Table> circle) {
        List<Link> inside = links.edgeSet().stream()
                .filter(link -> circle.contains(link.child()) && circle.contains(link.parent()))
                .toList();
        List<Link> firm = new ArrayList<>(inside.stream()
                .filter(link -> link.childColumns().stream().noneMatch(Column::nullable))
                .toList());
        if (hasCircle(circle, firm)) {
            throw new InvalidRequestException(
                    "The records to delete point at each other in a circle: "
                            + firm.stream().map(Link::toString).collect(Collectors.joining(", "))
                            + ", and none of these columns may be null.",
                    "Let one of them be null, so that the deletion can begin there.");
        }
        List<Link> loosened = new ArrayList<>();
        for (Link link : inside) {
            if (firm.contains(link)) {
                continue;
            }
            firm.add(link);
            if (hasCircle(circle, firm)) {
                firm.remove(link);
                loosened.add(link);
            }
        }
        return loosened;
    }

    private static boolean hasCircle(Set<Table> tables, List<Link> links) {
        Graph<Table, Link> graph = new DirectedPseudograph<>(Link.class);
        tables.forEach(graph::addVertex);
        links.forEach(link -> graph.addEdge(link.child(), link.parent(), link));
        return new CycleDetector<>(graph).detectCycles();
    }
}
