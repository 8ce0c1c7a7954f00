package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import java.sql.SQLException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Records of one table that point at each other, in an order in which each comes after those that it points at. */
final class Lineage {
    private final Table table;
    private final List<Link> links;
    private final CurrentRows standing;

    /**
     * Sorts nothing yet.
     *
     * @param links the foreign keys of a table to itself
     */
    Lineage(Table table, List<Link> links, CurrentRows standing) {
        this.table = table;
        this.links = links;
        this.standing = standing;
    }

    /**
     * What can be written, and what can't be yet.
     *
     * @param ready in such an order
     * @param waiting what points at a record that isn't there, or in a circle
     */
    record Sorted(List<RestorableRow> ready, List<RestorableRow> waiting) {}

    Sorted sort(List<RestorableRow> rows) throws SQLException {
        Map<RestorableRow, Integer> missing = new LinkedHashMap<>();
        rows.forEach(row -> missing.put(row, 0));
        Map<RestorableRow, List<RestorableRow>> followers = new HashMap<>();
        for (Link link : links) {
            Map<List<String>, RestorableRow> known = new HashMap<>();
            rows.forEach(row -> known.put(standing.texts(link.parentColumns(), row.image()), row));
            Set<List<String>> there = there(link, rows, known.keySet());
            for (RestorableRow row : rows) {
                List<String> wanted = standing.texts(link.childColumns(), row.image());
                RestorableRow parent = known.get(wanted);
                if (!isPointing(link, row) || there.contains(wanted) || row.equals(parent)) {
                    continue;
                }
                missing.merge(row, 1, Integer::sum);
                if (parent != null) {
                    followers.computeIfAbsent(parent, none -> new ArrayList<>()).add(row);
                }
            }
        }
        List<RestorableRow> ready = new ArrayList<>();
        Deque<RestorableRow> next = new ArrayDeque<>();
        missing.forEach((row, count) -> {
            if (count == 0) {
                next.add(row);
            }
        });
        while (!next.isEmpty()) {
            RestorableRow row = next.remove();
            ready.add(row);
            missing.remove(row);
            for (RestorableRow follower : followers.getOrDefault(row, List.of())) {
                if (missing.merge(follower, -1, Integer::sum) == 0) {
                    next.add(follower);
                }
            }
        }
        return new Sorted(ready, List.copyOf(missing.keySet()));
    }

    private static boolean isPointing(Link link, RestorableRow row) {
        return link.childColumns().stream().allMatch(column -> row.image().get(column) != null);
    }

    /** The parents that don't come with these rows and are in the database. */
    private Set<List<String>> there(Link link, List<RestorableRow> rows, Set<List<String>> coming) throws SQLException {
        Map<List<String>, List<Object>> others = new LinkedHashMap<>();
        for (RestorableRow row : rows) {
            List<String> wanted = standing.texts(link.childColumns(), row.image());
            if (isPointing(link, row) && !coming.contains(wanted)) {
                others.put(wanted, row.values(link.childColumns()));
            }
        }
        Set<List<String>> there = new HashSet<>();
        if (!others.isEmpty()) {
            Condition wanted = new Condition.Pictured(link.parentColumns(), List.copyOf(others.values()));
            for (Map<Column, Object> found : standing.images(table, link.parentColumns(), wanted)) {
                there.add(standing.texts(link.parentColumns(), found));
            }
        }
        return there;
    }
}
