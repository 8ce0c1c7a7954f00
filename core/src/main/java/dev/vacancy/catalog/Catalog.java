package dev.vacancy.catalog;

import dev.vacancy.dialect.Dialect;
import dev.vacancy.failure.InvalidRequestException;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * What the database holds: its tables and the links between them.
 *
 * @since 0.1
 */
public final class Catalog {
    private final List<Table> tables;
    private final List<Link> links;
    private final Map<Table, Label> labels;

    Catalog(List<Table> tables, List<Link> links, Map<Table, Label> labels) {
        this.tables = List.copyOf(tables);
        this.links = List.copyOf(links);
        this.labels = Map.copyOf(labels);
    }

    /**
     * Reads the catalog from the database's metadata: every table that the connection's user can see, in all schemas
     * but the database's own.
     *
     * @param connection an open connection
     * @param dialect the dialect of its database
     * @return the catalog as it is now; later changes of the schema don't show in it
     * @throws SQLException when the database doesn't answer
     */
    public static Catalog read(Connection connection, Dialect dialect) throws SQLException {
        return new CatalogReader(connection, dialect).read();
    }

    /**
     * Returns this catalog with links that the database doesn't declare.
     *
     * @param undeclared links between tables of this catalog
     * @return the larger catalog
     */
    public Catalog with(List<Link> undeclared) {
        List<Link> all = new ArrayList<>(links);
        all.addAll(undeclared);
        return new Catalog(tables, all, labels);
    }

    /**
     * Returns this catalog with what people recognise records by.
     *
     * @param given the labels of some tables; the others keep theirs
     * @return the catalog
     */
    public Catalog labelled(Map<Table, Label> given) {
        Map<Table, Label> all = new HashMap<>(labels);
        all.putAll(given);
        return new Catalog(tables, links, all);
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
     * Returns all tables.
     *
     * @return the tables by schema and name
     */
    public List<Table> tables() {
        return tables;
    }

    /**
     * Returns all links.
     *
     * @return the links by child table and constraint
     */
    public List<Link> links() {
        return links;
    }

    /**
     * Returns the links that point to a table.
     *
     * @param parent the table
     * @return its children's foreign keys
     */
    public List<Link> linksTo(Table parent) {
        return links.stream().filter(link -> link.parent().equals(parent)).toList();
    }

    /**
     * Returns the links that lead from a table to its parents.
     *
     * @param child the table
     * @return its foreign keys
     */
    public List<Link> linksFrom(Table child) {
        return links.stream().filter(link -> link.child().equals(child)).toList();
    }

    /**
     * Finds a table by the name that a person gives.
     *
     * @param given the name, with or without its schema, in any case unless two tables differ by case alone
     * @return the table
     * @throws InvalidRequestException when there is none, with the nearest name, or several
     */
    public Table table(String given) {
        return Names.find(given, tables, Table::name, Table::name)
                .or(() -> Names.find(
                        given, tables, Table::storedName, table -> table.schema() + "." + table.storedName()))
                .orElseThrow(() -> unknown(given));
    }

    /**
     * Finds a link by where its foreign key stands.
     *
     * @param where such as {@code inspection.hive_id}, or {@code hive.(apiary_id, row_no)} for several columns; in any case
     * @return the link
     * @throws InvalidRequestException when there is none, with the nearest
     */
    public Link link(String where) {
        return Names.find(where, links, Link::where, Link::where)
                .orElseThrow(() -> new InvalidRequestException(
                        "There is no link '" + where + "'.",
                        Names.suggestion(where, links.stream().map(Link::where).toList())));
    }

    private InvalidRequestException unknown(String given) {
        List<String> same = tables.stream()
                .filter(table -> table.storedName().equalsIgnoreCase(given))
                .map(Table::name)
                .toList();
        return same.size() > 1
                ? new InvalidRequestException(
                        "There are several tables '" + given + "'.", "Say which: " + String.join(", ", same) + ".")
                : new InvalidRequestException(
                        "There is no table '" + given + "'.",
                        Names.suggestion(given, tables.stream().map(Table::name).toList()));
    }
}
