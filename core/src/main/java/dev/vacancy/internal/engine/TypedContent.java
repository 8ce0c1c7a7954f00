package dev.vacancy.internal.engine;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import java.math.BigDecimal;
import java.sql.Types;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/** The content of a record in the types that its columns have, whether a driver or the trail tells of it. */
final class TypedContent {
    private TypedContent() {}

    static Map<String, Object> of(RecordContent record) {
        return typed(record.values(), record.table());
    }

    static Optional<Map<String, Object>> of(TrailEntry entry, DatabaseCatalog catalog) {
        Optional<Map<String, Object>> image = entry.before().or(entry::after);
        Optional<Table> table = catalog.tables().stream()
                .filter(candidate -> candidate.name().equalsIgnoreCase(entry.table()))
                .findFirst();
        return table.isEmpty() ? image : image.map(values -> typed(values, table.get()));
    }

    /** Of a column that is gone, or has another type by now, the value is as the trail has it. */
    private static Map<String, Object> typed(Map<String, Object> image, Table table) {
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
