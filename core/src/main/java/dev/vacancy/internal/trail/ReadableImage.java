package dev.vacancy.internal.trail;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.TypedValues;
import dev.vacancy.internal.dialect.MalformedText;
import java.sql.Types;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * Images of the trail for applications: numbers and truth values as such, where the column is still known; all else as the database writes
 * it.
 *
 * @param catalog what is there
 * @since 0.1
 */
public record ReadableImage(Catalog catalog) {
    /**
     * Reads an image.
     *
     * @param tableName the table that it is of
     * @param image what {@link Image} reads
     * @return the same columns
     */
    public Map<String, Object> of(String tableName, Map<String, Object> image) {
        Optional<Table> table = catalog.tables().stream()
                .filter(each -> each.name().equals(tableName))
                .findFirst();
        Map<String, Object> readable = new LinkedHashMap<>();
        image.forEach((name, value) -> readable.put(
                name,
                table.flatMap(known -> known.columns().stream()
                                .filter(column -> column.name().equals(name))
                                .findFirst())
                        .map(column -> readable(column, value))
                        .orElse(value instanceof MalformedText text ? text.toString() : value)));
        return readable;
    }

    /**
     * Reads an image in the types that the columns have.
     *
     * @param tableName the table that it is of
     * @param image what {@link Image} reads
     * @return the same columns
     */
    public Map<String, Object> typed(String tableName, Map<String, Object> image) {
        Map<String, Object> readable = of(tableName, image);
        return catalog.tables().stream()
                .filter(each -> each.name().equals(tableName))
                .findFirst()
                .map(table -> TypedValues.of(readable, table))
                .orElse(readable);
    }

    private static Object readable(Column column, Object value) {
        if (value instanceof MalformedText text) {
            return text.toString();
        }
        boolean plain = ColumnType.of(column).isInteger()
                || column.jdbcType() == Types.NUMERIC
                || column.jdbcType() == Types.DECIMAL
                || column.jdbcType() == Types.BOOLEAN;
        return plain && value instanceof String text ? ColumnType.of(column).read(text) : value;
    }
}
