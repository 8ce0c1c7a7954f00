package dev.vacancy.internal.schema;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Decides which tables make up a catalog: those of the schemas that are meant and whatever links connect with them, and no
 * table whose records are another's, such as a partition's.
 */
final class CatalogMembership {
    private final Map<Table, Table> wholes;

    /**
     * Knows which tables are parts of others.
     *
     * @param wholes for each part the table that it belongs to
     */
    CatalogMembership(Map<Table, Table> wholes) {
        this.wholes = wholes;
    }

    /** What is left of tables and links. */
    record Kept(List<Table> tables, List<Link> links) {}

    /** Leaves out parts, whose records are reached through the table they belong to, and links that are only copies. */
    Kept withoutParts(List<Table> tables, List<Link> links) {
        List<Link> own = links.stream().filter(link -> !isCopy(link, links)).toList();
        Set<Table> linked = new LinkedHashSet<>();
        own.forEach(link -> {
            linked.add(link.child());
            linked.add(link.parent());
        });
        return new Kept(
                tables.stream()
                        .filter(table -> !wholes.containsKey(table) || linked.contains(table))
                        .toList(),
                own);
    }

    /** Whether the same foreign key stands at the table that this one's child or parent is a part of. */
    private boolean isCopy(Link link, List<Link> links) {
        Table child = wholeOf(link.child());
        Table parent = wholeOf(link.parent());
        boolean isPart = !child.equals(link.child()) || !parent.equals(link.parent());
        return isPart
                && links.stream()
                        .anyMatch(other -> other.child().equals(child)
                                && other.parent().equals(parent)
                                && names(other.childColumns()).equals(names(link.childColumns())));
    }

    private Table wholeOf(Table table) {
        Table whole = table;
        while (wholes.containsKey(whole)) {
            whole = wholes.get(whole);
        }
        return whole;
    }

    private static List<String> names(List<Column> columns) {
        return columns.stream().map(Column::storedName).toList();
    }

    /** Keeps the tables of some schemas, and those that links lead to from there or that lead there. */
    static Kept around(Set<String> schemas, List<Table> tables, List<Link> links) {
        Map<Table, List<Table>> neighbours = new LinkedHashMap<>();
        for (Link link : links) {
            neighbours
                    .computeIfAbsent(link.child(), missing -> new ArrayList<>())
                    .add(link.parent());
            neighbours
                    .computeIfAbsent(link.parent(), missing -> new ArrayList<>())
                    .add(link.child());
        }
        List<Table> open = new ArrayList<>(tables.stream()
                .filter(table -> schemas.contains(table.schema()))
                .toList());
        Set<Table> kept = new LinkedHashSet<>(open);
        while (!open.isEmpty()) {
            Table next = open.remove(open.size() - 1);
            neighbours.getOrDefault(next, List.of()).stream().filter(kept::add).forEach(open::add);
        }
        return new Kept(
                tables.stream().filter(kept::contains).toList(),
                links.stream().filter(link -> kept.contains(link.child())).toList());
    }
}
