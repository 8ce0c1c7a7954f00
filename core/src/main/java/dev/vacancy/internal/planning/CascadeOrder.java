package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.rules.Rules;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.jgrapht.Graph;
import org.jgrapht.alg.connectivity.KosarajuStrongConnectivityInspector;
import org.jgrapht.graph.DefaultEdge;
import org.jgrapht.graph.DirectedPseudograph;
import org.jgrapht.traverse.TopologicalOrderIterator;

/** The order in which cascades reach tables. */
final class CascadeOrder {
    private final Rules rules;
    private final Graph<Table, DefaultEdge> cascades = new DirectedPseudograph<>(DefaultEdge.class);

    private CascadeOrder(Rules rules) {
        this.rules = rules;
    }

    /** The groups of tables that cascade into each other in a circle, most of them single tables, parents first. */
    static List<Set<Table>> from(Collection<Table> roots, Rules rules) {
        CascadeOrder order = new CascadeOrder(rules);
        roots.forEach(order::reach);
        List<Set<Table>> groups = new ArrayList<>();
        new TopologicalOrderIterator<>(new KosarajuStrongConnectivityInspector<>(order.cascades).getCondensation())
                .forEachRemaining(group -> groups.add(new LinkedHashSet<>(group.vertexSet())));
        return groups;
    }

    private void reach(Table table) {
        if (!cascades.addVertex(table)) {
            return;
        }
        for (Link link : rules.catalog().linksTo(table)) {
            if (rules.mayCascade(link)) {
                reach(link.child());
                cascades.addEdge(table, link.child());
            }
        }
    }
}
