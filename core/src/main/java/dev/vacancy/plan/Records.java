package dev.vacancy.plan;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Label;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Turns what was read of records into what is shown of them. */
final class Records {
    private final Catalog catalog;

    Records(Catalog catalog) {
        this.catalog = catalog;
    }

    /** A whole record, from the values of all columns of its table. */
    RecordContent content(Table table, List<Object> values) {
        Map<String, Object> byName = new LinkedHashMap<>();
        for (int i = 0; i < values.size(); i++) {
            byName.put(table.columns().get(i).name(), values.get(i));
        }
        List<Object> key = new ArrayList<>();
        table.identity().forEach(column -> key.add(byName.get(column.name())));
        Optional<String> label = catalog.label(table).text(column -> byName.get(column.name()));
        return new RecordContent(table, new Key(table.identity(), key), label, byName);
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
        Optional<Key> key = identity.isEmpty()
                ? Optional.empty()
                : Optional.of(
                        new Key(identity, identity.stream().map(values::get).toList()));
        Label label = catalog.label(table);
        Optional<String> text = key.isEmpty() && label.columns().isEmpty()
                ? Optional.ofNullable(values.get(table.columns().get(0))).map(Object::toString)
                : label.text(values::get);
        return new Sample(key, text.filter(known -> key.isEmpty() || !identity.containsAll(label.columns())));
    }
}
