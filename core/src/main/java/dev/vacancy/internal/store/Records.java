package dev.vacancy.internal.store;

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
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jspecify.annotations.Nullable;

/**
 * Turns what was read of records into what is shown of them.
 *
 * @since 0.1
 */
public final class Records {
    private final DatabaseCatalog catalog;

    /**
     * Shows records of a catalog.
     *
     * @param catalog knows what records are recognised by
     */
    public Records(DatabaseCatalog catalog) {
        this.catalog = catalog;
    }

    /**
     * Shows a whole record.
     *
     * @param table its table
     * @param identity its identity
     * @param values all that it holds, by column
     * @return the record
     */
    public RecordContent content(Table table, List<Object> identity, Map<String, @Nullable Object> values) {
        Optional<String> label = catalog.label(table).text(column -> values.get(column.name()));
        return new RecordContent(table, new RecordKey(table.identity(), identity), label, values);
    }

    /**
     * Tells what is read of a child on a link.
     *
     * @param link the link
     * @return the columns that it is shown by, and those of its foreign key
     */
    public Set<Column> traced(Link link) {
        Set<Column> columns = shown(link.child());
        columns.addAll(link.childColumns());
        return columns;
    }

    /**
     * Takes from children what leads to their parents.
     *
     * @param link the link
     * @param children the values of each
     * @return the identity and the foreign key of each
     */
    public static List<List<Object>> traces(Link link, List<Map<Column, Object>> children) {
        List<Column> columns = new ArrayList<>(link.child().identity());
        columns.addAll(link.childColumns());
        return children.stream()
                .map(child -> columns.stream().map(child::get).toList())
                .toList();
    }

    /**
     * Tells what a record is shown by: its key and its label, or whatever there is.
     *
     * @param table its table
     * @return the columns
     */
    public Set<Column> shown(Table table) {
        Set<Column> columns = new LinkedHashSet<>(table.identity());
        columns.addAll(catalog.label(table).columns());
        if (columns.isEmpty()) {
            columns.add(table.columns().get(0));
        }
        return columns;
    }

    /**
     * Shows a record.
     *
     * @param table its table
     * @param values the values of the columns of {@link #shown}
     * @return the record as it is shown
     */
    public Sample sample(Table table, Map<Column, Object> values) {
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
