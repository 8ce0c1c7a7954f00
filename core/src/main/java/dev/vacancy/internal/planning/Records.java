package dev.vacancy.internal.planning;

import dev.vacancy.Sample;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.catalog.Label;
import dev.vacancy.internal.catalog.RecordKey;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Turns what was read of records into what is shown of them. */
final class Records {
    private final DatabaseCatalog catalog;

    Records(DatabaseCatalog catalog) {
        this.catalog = catalog;
    }

    /** A whole record, from its identity and the values of all columns of its table. */
    RecordContent content(Table table, List<Object> identity, List<Object> values) {
        Map<String, Object> byName = new LinkedHashMap<>();
        for (int i = 0; i < values.size(); i++) {
            byName.put(table.columns().get(i).name(), values.get(i));
        }
        Optional<String> label = catalog.label(table).text(column -> byName.get(column.name()));
        return new RecordContent(table, new RecordKey(table.identity(), identity), label, byName);
    }

    /** What is read of a child on a link: what it is shown by, and its foreign key. */
    Set<Column> traced(Link link) {
        Set<Column> columns = shown(link.child());
        columns.addAll(link.childColumns());
        return columns;
    }

    /** Of children on a link, the identity and the foreign key of each. */
    static List<List<Object>> traces(Link link, List<Map<Column, Object>> children) {
        List<Column> columns = new ArrayList<>(link.child().identity());
        columns.addAll(link.childColumns());
        return children.stream()
                .map(child -> columns.stream().map(child::get).toList())
                .toList();
    }

    /** The identity with which a row begins as text, a missing value among it. */
    static String text(List<Column> identity, List<Object> row) {
        List<Object> values = row.subList(0, identity.size());
        return values.stream().anyMatch(Objects::isNull)
                ? values.stream().map(String::valueOf).collect(Collectors.joining(","))
                : new RecordKey(identity, values).text();
    }

    /** What a record is shown by: its key and its label, or whatever there is. */
    Set<Column> shown(Table table) {
        Set<Column> columns = new LinkedHashSet<>(table.identity());
        columns.addAll(catalog.label(table).columns());
        if (columns.isEmpty()) {
            columns.add(table.columns().get(0));
        }
        return columns;
    }

    /** A record as it is shown, from the values of those columns. */
    Sample sample(Table table, Map<Column, Object> values) {
        List<Column> identity = table.identity();
        Optional<Key> key = identity.isEmpty() || identity.stream().anyMatch(column -> values.get(column) == null)
                ? Optional.empty()
                : Optional.of(new RecordKey(
                        identity, identity.stream().map(values::get).toList()));
        Label label = catalog.label(table);
        Optional<String> text = key.isEmpty() && label.columns().isEmpty()
                ? Optional.ofNullable(values.get(table.columns().get(0))).map(Object::toString)
                : label.text(values::get);
        return new Sample(key, text.filter(known -> key.isEmpty() || !identity.containsAll(label.columns())));
    }
}
