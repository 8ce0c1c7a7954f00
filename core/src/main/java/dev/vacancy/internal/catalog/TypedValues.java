package dev.vacancy.internal.catalog;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import java.math.BigDecimal;
import java.sql.Types;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * The content of a record in the types that its columns have.
 *
 * @since 0.1
 */
public final class TypedValues {
    private TypedValues() {}

    /**
     * Returns values in the types of their columns. Of a column that is gone, or has another type by now, the value is as it was given.
     *
     * @param image values by column, as a driver or the trail gives them
     * @param table the table of the columns
     * @return the same columns, not to be changed
     */
    public static Map<String, Object> of(Map<String, Object> image, Table table) {
        Map<String, Object> values = new LinkedHashMap<>(image);
        for (Column column : table.columns()) {
            values.computeIfPresent(column.name(), (name, value) -> typed(value, column, table));
        }
        return Collections.unmodifiableMap(values);
    }

    private static Object typed(Object value, Column column, Table table) {
        if (column.jdbcType() == Types.BOOLEAN) {
            return value instanceof Boolean ? value : !value.toString().equals("0");
        }
        if (value instanceof Number number) {
            return typed(number, column.jdbcType());
        }
        try {
            return value instanceof String ? CatalogTable.of(table).convert(column, value) : value;
        } catch (InvalidRequestException otherwise) {
            return value;
        }
    }

    private static Number typed(Number number, int jdbcType) {
        return switch (jdbcType) {
            case Types.TINYINT, Types.SMALLINT, Types.INTEGER ->
                number.longValue() == number.intValue() ? (Number) number.intValue() : number;
            case Types.BIGINT -> number instanceof Integer ? (Number) number.longValue() : number;
            case Types.DECIMAL, Types.NUMERIC ->
                Double.isFinite(number.doubleValue()) ? (Number) new BigDecimal(number.toString()) : number;
            default -> number;
        };
    }
}
