package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.store.RecordStore;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;

/**
 * Finds out which record that goes is the parent of a child. Where both hold the very same value that is plain; else the
 * database is asked, whose foreign key may take other values for the same, by a collation for instance.
 */
final class Parentage {
    private final RecordStore store;

    Parentage(RecordStore store) {
        this.store = store;
    }

    /**
     * Finds the parents of children on a link.
     *
     * @param rows of each child its identity first, if its table has one, and its foreign key last
     * @param byReference the records that may be the parents, by what children hold of them
     * @param home knows the records by their identity
     * @return for each row the parent, in order; empty if nobody knows it
     */
    List<Optional<KeyedRecords.Member>> of(
            Link link, List<List<Object>> rows, Map<Key, KeyedRecords.Member> byReference, KeyedRecords home) {
        List<Optional<KeyedRecords.Member>> parents = new ArrayList<>();
        List<List<Object>> unknown = new ArrayList<>();
        for (List<Object> row : rows) {
            Optional<KeyedRecords.Member> parent = foreignKey(link, row).map(byReference::get);
            parents.add(parent);
            if (parent.isEmpty()) {
                identity(link, row).ifPresent(unknown::add);
            }
        }
        Map<List<Object>, KeyedRecords.Member> asked = ask(link, unknown, home);
        for (int i = 0; i < rows.size(); i++) {
            if (parents.get(i).isEmpty()) {
                parents.set(i, identity(link, rows.get(i)).map(asked::get));
            }
        }
        return parents;
    }

    private Map<List<Object>, KeyedRecords.Member> ask(
            Link link, Collection<List<Object>> children, KeyedRecords home) {
        Map<List<Object>, KeyedRecords.Member> found = new HashMap<>();
        if (!children.isEmpty()) {
            int width = link.child().identity().size();
            for (List<Object> row : store.parents(link, children)) {
                KeyedRecords.Member parent = home.member(row.subList(width, row.size()));
                if (parent != null) {
                    found.put(List.copyOf(row.subList(0, width)), parent);
                }
            }
        }
        return found;
    }

    private static Optional<List<Object>> identity(Link link, List<Object> row) {
        List<Column> identity = link.child().identity();
        List<Object> values = row.subList(0, identity.size());
        return identity.isEmpty() || values.stream().anyMatch(Objects::isNull)
                ? Optional.empty()
                : Optional.of(List.copyOf(values));
    }

    private static Optional<Key> foreignKey(Link link, List<Object> row) {
        List<Column> columns = link.childColumns();
        List<Object> values = row.subList(row.size() - columns.size(), row.size());
        return values.stream().anyMatch(Objects::isNull)
                ? Optional.empty()
                : Optional.of(new RecordKey(columns, values).comparable());
    }
}
