package dev.vacancy.catalog;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * The key of a record as a caller gives it, before the table is known: values of any type, text among them.
 *
 * @since 0.1
 */
public sealed interface KeyGiven {
    /**
     * Values in the order of the key's columns, or one list of them.
     *
     * @param values the values
     */
    record InOrder(List<?> values) implements KeyGiven {
        @Override
        public List<?> valuesFor(Table table) {
            boolean oneList = values.size() == 1 && values.get(0) instanceof List<?>;
            return oneList && table.identity().size() > 1 ? (List<?>) values.get(0) : values;
        }
    }

    /**
     * Values by the names of the key's columns.
     *
     * @param values the values
     */
    record ByName(Map<String, ?> values) implements KeyGiven {
        @Override
        public List<?> valuesFor(Table table) {
            Map<Column, Object> byColumn = new HashMap<>();
            values.forEach((name, value) -> byColumn.put(table.column(name), value));
            boolean complete = byColumn.keySet().equals(Set.copyOf(table.identity()));
            if (!complete || byColumn.size() != values.size()) {
                throw wrongShape(table, String.join(", ", values.keySet()));
            }
            return table.identity().stream().map(byColumn::get).toList();
        }
    }

    /**
     * Returns the values in the order of a table's key.
     *
     * @param table the table
     * @return the values as they were given
     * @throws InvalidRequestException when they were given by names that aren't the key's
     */
    List<?> valuesFor(Table table);

    /**
     * Turns the values into a key of a table's own types. Text is read the way the column's type is written in
     * ISO 8601, RFC 9562 or plain digits; nothing is trimmed or rounded.
     *
     * @param table the table
     * @return the key
     * @throws InvalidRequestException when the table has no key, or the values have another shape or type
     */
    default Key resolve(Table table) {
        List<Column> columns = table.requireIdentity();
        List<?> values = valuesFor(table);
        if (values.size() != columns.size()) {
            throw wrongShape(table, values.size() + " values");
        }
        List<Object> converted = new ArrayList<>();
        for (int i = 0; i < columns.size(); i++) {
            converted.add(table.convert(columns.get(i), values.get(i)));
        }
        return new Key(columns, converted);
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
