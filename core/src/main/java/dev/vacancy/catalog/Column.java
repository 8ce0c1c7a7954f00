package dev.vacancy.catalog;

import dev.vacancy.dialect.Dialect;
import java.sql.Types;
import java.util.List;
import java.util.Optional;

/**
 * A column of a table.
 *
 * @param name the name as people write it
 * @param storedName the name as the database stores it
 * @param type the database's own name of the type, such as {@code INTEGER} or {@code int4}
 * @param jdbcType the type as one of {@link java.sql.Types}
 * @param nullable whether it may be null
 * @param declaredDefault its default as the schema declares it, empty without one
 * @since 0.1
 */
public record Column(
        String name, String storedName, String type, int jdbcType, boolean nullable, Optional<String> declaredDefault) {
    /**
     * Tells whether the column holds text that a person could read as a label.
     *
     * @return true for character types, large objects not among them
     */
    public boolean isText() {
        return switch (jdbcType) {
            case Types.CHAR, Types.VARCHAR, Types.LONGVARCHAR, Types.NCHAR, Types.NVARCHAR, Types.LONGNVARCHAR -> true;
            default -> false;
        };
    }

    /**
     * Tells whether the column holds points in time with their offset from UTC.
     *
     * @return true for a timestamp with time zone
     */
    public boolean isZoned() {
        return jdbcType == Types.TIMESTAMP_WITH_TIMEZONE || type.equalsIgnoreCase("timestamptz");
    }

    /**
     * Says columns in a database's own words.
     *
     * @param dialect the dialect of the database
     * @param columns the columns
     * @return their names, quoted
     */
    public static List<String> in(Dialect dialect, List<Column> columns) {
        return columns.stream().map(column -> dialect.quote(column.storedName)).toList();
    }

    @Override
    public String toString() {
        return name;
    }
}
