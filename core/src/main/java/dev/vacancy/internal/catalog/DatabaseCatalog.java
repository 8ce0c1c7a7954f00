package dev.vacancy.internal.catalog;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.jgrapht.Graph;
import org.jgrapht.alg.connectivity.KosarajuStrongConnectivityInspector;
import org.jgrapht.graph.DefaultEdge;
import org.jgrapht.graph.DirectedPseudograph;

/**
 * What the database holds: its tables and the links between them.
 *
 * @since 0.1
 */
public final class DatabaseCatalog implements Catalog {
    private final List<Table> tables;
    private final List<Link> links;
    private final Map<Table, Label> labels;
    private final Map<Table, Access> access;
    private final Map<Table, List<Link>> byParent;
    private final Map<Table, List<Link>> byChild;
    private volatile Set<Table> circular;

    /**
     * Keeps what was read from a database.
     *
     * @param tables the tables
     * @param links the links between them
     * @param labels what people recognise records by, where it isn't the usual
     * @param access what the database's user may do, where that has limits
     */
    public DatabaseCatalog(List<Table> tables, List<Link> links, Map<Table, Label> labels, Map<Table, Access> access) {
        this.access = Map.copyOf(access);
        this.tables = List.copyOf(tables);
        this.links = List.copyOf(links);
        this.labels = Map.copyOf(labels);
        this.byParent = this.links.stream().collect(Collectors.groupingBy(Link::parent));
        this.byChild = this.links.stream().collect(Collectors.groupingBy(Link::child));
    }

    private static Set<Table> circular(List<Table> tables, List<Link> links) {
        Graph<Table, DefaultEdge> graph = new DirectedPseudograph<>(DefaultEdge.class);
        tables.forEach(graph::addVertex);
        links.forEach(link -> graph.addEdge(link.child(), link.parent()));
        Set<Table> circular = new HashSet<>();
        new KosarajuStrongConnectivityInspector<>(graph)
                .stronglyConnectedSets().stream()
                        .filter(group -> group.size() > 1)
                        .forEach(circular::addAll);
        links.stream()
                .filter(link -> CatalogLink.of(link).isToItself())
                .map(Link::child)
                .forEach(circular::add);
        return Set.copyOf(circular);
    }

    /**
     * Returns this catalog with links that the database doesn't declare.
     *
     * @param undeclared links between tables of this catalog
     * @return the larger catalog
     */
    public DatabaseCatalog with(List<Link> undeclared) {
        List<Link> all = new ArrayList<>(links);
        all.addAll(undeclared);
        return new DatabaseCatalog(tables, all, labels, access);
    }

    /**
     * Returns this catalog without the links that only rules know of.
     *
     * @return the catalog as the database has it
     */
    public DatabaseCatalog declared() {
        return new DatabaseCatalog(tables, links.stream().filter(Link::declared).toList(), labels, access);
    }

    /**
     * Returns a part of this catalog.
     *
     * @param table a table of it
     * @param near the links to keep
     * @return the catalog of that table and of those at both ends of the links
     */
    public DatabaseCatalog only(Table table, List<Link> near) {
        Set<Table> kept = new HashSet<>(Set.of(table));
        near.forEach(link -> {
            kept.add(link.child());
            kept.add(link.parent());
        });
        return new DatabaseCatalog(tables.stream().filter(kept::contains).toList(), near, labels, access);
    }

    /**
     * Returns this catalog with what people recognise records by.
     *
     * @param given the labels of some tables; the others keep theirs
     * @return the catalog
     */
    public DatabaseCatalog labelled(Map<Table, Label> given) {
        Map<Table, Label> all = new HashMap<>(labels);
        all.putAll(given);
        return new DatabaseCatalog(tables, links, all, access);
    }

    /**
     * Returns what people recognise a table's records by.
     *
     * @param table a table of this catalog
     * @return its label; without columns if there is none
     */
    public Label label(Table table) {
        return labels.getOrDefault(table, Label.usual(table));
    }

    /**
     * Returns what the database's user may do with a table.
     *
     * @param table a table of this catalog
     * @return the limits, as far as the database tells them
     */
    public Access access(Table table) {
        return access.getOrDefault(table, Access.FULL);
    }

    /**
     * Returns the tables that link to each other in a circle, or to themselves.
     *
     * @return the tables, in no order
     */
    public Set<Table> circular() {
        Set<Table> known = circular;
        if (known == null) {
            known = circular(tables, links);
            circular = known;
        }
        return known;
    }

    @Override
    public List<Table> tables() {
        return tables;
    }

    @Override
    public List<Link> links() {
        return links;
    }

    /**
     * Returns the link that was turned round.
     *
     * @param mirror a link of this catalog, turned round
     * @return the one that it was made of
     */
    public Link turnedRound(Link mirror) {
        return linksTo(mirror.child()).stream()
                .filter(link -> CatalogLink.of(link).mirrored().equals(mirror))
                .findFirst()
                .orElseThrow();
    }

    @Override
    public List<Link> linksTo(Table parent) {
        return Collections.unmodifiableList(byParent.getOrDefault(parent, List.of()));
    }

    @Override
    public List<Link> linksFrom(Table child) {
        return Collections.unmodifiableList(byChild.getOrDefault(child, List.of()));
    }

    /**
     * Refuses an empty catalog: it was read before the schema was there, or by a user who can't see it.
     *
     * @throws InvalidRequestException when there is no table
     */
    public void requireTables() {
        if (tables.isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.EMPTY_CATALOG,
                    "The database has no table that this connection's user can see in its schema.",
                    "Make the schema first, or check the connection's address, its schema and the user's rights.");
        }
    }

    @Override
    public Table table(String given) {
        return Names.find(given, tables, Table::name, Table::name)
                .or(() -> Names.find(
                        given, tables, Table::storedName, table -> table.schema() + "." + table.storedName()))
                .orElseThrow(() -> unknown(given));
    }

    @Override
    public Link link(String where) {
        List<Link> own =
                links.stream().filter(link -> !CatalogLink.of(link).isMirror()).toList();
        return Names.find(where.strip().replaceAll("\\s*,\\s*", ", "), own, Link::where, Link::where)
                .orElseThrow(() -> new InvalidRequestException(
                                FailureCode.UNKNOWN_LINK,
                                "There is no link '" + where + "'.",
                                Names.suggestion(
                                        where, own.stream().map(Link::where).toList()))
                        .about("link", where));
    }

    private InvalidRequestException unknown(String given) {
        List<String> same = tables.stream()
                .filter(table -> table.storedName().equalsIgnoreCase(given))
                .map(Table::name)
                .toList();
        return same.size() > 1
                ? new InvalidRequestException(
                                FailureCode.AMBIGUOUS_NAME,
                                "There are several tables '" + given + "'.",
                                "Say which: " + String.join(", ", same) + ".")
                        .about("table", given)
                : new InvalidRequestException(
                                FailureCode.UNKNOWN_TABLE,
                                "There is no table '" + given + "'.",
                                Names.suggestion(
                                        given, tables.stream().map(Table::name).toList()))
                        .about("table", given);
    }

    /**
     * Returns the engine's side of what an application sees.
     *
     * @param seen what the application sees
     * @return the same
     */
    public static DatabaseCatalog of(Catalog seen) {
        return (DatabaseCatalog) seen;
    }
}
