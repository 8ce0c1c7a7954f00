package dev.vacancy.internal.catalog;

import dev.vacancy.catalog.Column;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.sql.Types;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.util.Locale;
import java.util.UUID;

/** The Java type of a column's values. */
public final class ValueType {
    private ValueType() {}

    /**
     * Returns the type in which an application has a column's values.
     *
     * @param column the column
     * @return the class; {@code Object} where each database has a type of its own
     */
    public static Class<?> of(Column column) {
        String name = column.typeName().toLowerCase(Locale.ROOT);
        if (name.equals("uuid")) {
            return UUID.class;
        }
        if (name.startsWith("timestamptz") || name.contains("with time zone")) {
            return name.startsWith("time ") || name.startsWith("time(") ? Object.class : OffsetDateTime.class;
        }
        boolean unsigned = name.contains("unsigned");
        return switch (column.jdbcType()) {
            case Types.BOOLEAN -> Boolean.class;
            case Types.BIT -> name.startsWith("bit") ? Object.class : Boolean.class;
            case Types.TINYINT, Types.SMALLINT -> Integer.class;
            case Types.INTEGER -> unsigned ? Long.class : Integer.class;
            case Types.BIGINT -> unsigned ? BigInteger.class : Long.class;
            case Types.DECIMAL, Types.NUMERIC -> BigDecimal.class;
            case Types.REAL, Types.FLOAT, Types.DOUBLE -> Double.class;
            case Types.CHAR, Types.VARCHAR, Types.LONGVARCHAR, Types.CLOB, Types.NCHAR, Types.NVARCHAR, Types.NCLOB ->
                String.class;
            case Types.DATE -> LocalDate.class;
            case Types.TIME -> LocalTime.class;
            case Types.TIMESTAMP -> LocalDateTime.class;
            case Types.TIMESTAMP_WITH_TIMEZONE -> OffsetDateTime.class;
            case Types.BINARY, Types.VARBINARY, Types.LONGVARBINARY, Types.BLOB -> byte[].class;
            default -> Object.class;
        };
    }
}
