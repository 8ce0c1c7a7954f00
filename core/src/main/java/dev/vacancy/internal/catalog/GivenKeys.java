package dev.vacancy.internal.catalog;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.Table;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/** Keys as callers give them, in the types of a table's columns. */
public final class GivenKeys {
    private GivenKeys() {}

    /**
     * Turns the values into a key of a table's own types. Text is read the way the column's type is written in
     * ISO 8601, RFC 9562 or plain digits; nothing is trimmed or rounded.
     *
     * @param given the values
     * @param table the table
     * @return the key
     * @throws InvalidRequestException when the table has no key, or the values have another shape or type
     */
    public static Key resolve(KeyGiven given, Table table) {
        List<Column> columns = CatalogTable.of(table).requireIdentity();
        List<?> values = values(given, table);
        if (values.size() != columns.size()) {
            throw wrongShape(table, values.size() + " values");
        }
        List<Object> converted = new ArrayList<>();
        for (int i = 0; i < columns.size(); i++) {
            converted.add(CatalogTable.of(table).convert(columns.get(i), values.get(i)));
        }
        return new RecordKey(columns, converted);
    }

    /**
     * Turns many keys into those of a table's own types.
     *
     * @param given the values of each
     * @param table the table
     * @return the keys in their order; one that was given twice stands where it came first
     * @throws InvalidRequestException when one of them can't be resolved
     */
    public static KeyList distinct(List<KeyGiven> given, Table table) {
        PackedRows values = new PackedRows();
        RowPlaces places = new RowPlaces(values);
        given.forEach(key -> places.append(resolve(key, table).values()));
        return new KeyList(CatalogTable.of(table).requireIdentity(), values);
    }

    /**
     * Returns the values in the order of a table's key.
     *
     * @param given the values
     * @param table the table
     * @return the values as they were given
     * @throws InvalidRequestException when they were given by names that aren't the key's
     */
    public static List<?> values(KeyGiven given, Table table) {
        if (given instanceof KeyGiven.ByName named) {
            return CatalogTable.of(table).conversion().takesDocuments() && !isByColumn(named, table)
                    ? List.of(named.values())
                    : inOrder(named.values(), table);
        }
        List<?> values = ((KeyGiven.InOrder) given).values();
        boolean oneList = values.size() == 1 && values.get(0) instanceof List<?>;
        return oneList && table.identity().size() > 1 ? (List<?>) values.get(0) : values;
    }

    private static boolean isByColumn(KeyGiven.ByName named, Table table) {
        return named.values().size() == 1
                && table.identity()
                        .get(0)
                        .name()
                        .equals(named.values().keySet().iterator().next());
    }

    private static List<?> inOrder(Map<String, ?> values, Table table) {
        Map<Column, Object> byColumn = new HashMap<>();
        values.forEach((name, value) -> byColumn.put(table.column(name), value));
        boolean complete = byColumn.keySet().equals(Set.copyOf(table.identity()));
        if (!complete || byColumn.size() != values.size()) {
            throw wrongShape(table, String.join(", ", values.keySet()));
        }
        return table.identity().stream().map(byColumn::get).toList();
    }

    private static InvalidRequestException wrongShape(Table table, String given) {
        String shape =
                table.identity().stream().map(column -> column.name() + "=…").collect(Collectors.joining(","));
        String columns = table.identity().stream().map(Column::name).collect(Collectors.joining(", "));
        return new InvalidRequestException(
                FailureCode.KEY_SHAPE,
                "A key of " + table.name() + " has the columns " + columns + ", but " + given + " came.",
                "Give one value for each: " + shape + ".");
    }
}
