package dev.vacancy.declared;

import dev.vacancy.Moment;
import dev.vacancy.catalog.Column;
import java.lang.reflect.Parameter;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.Type;
import java.lang.reflect.WildcardType;
import java.nio.ByteBuffer;
import java.sql.Types;
import java.time.temporal.Temporal;
import java.util.Collection;
import java.util.Date;
import java.util.Locale;
import java.util.UUID;

/**
 * A parameter of a method.
 *
 * @param parameter the parameter
 * @param place its place among them, counted from 0
 */
record MethodParameter(Parameter parameter, int place) {
    String name() {
        if (!parameter.isNamePresent()) {
            throw Operation.wrong(
                    "The names of its parameters aren't in the class file.", "Compile the interface with -parameters.");
        }
        return parameter.getName();
    }

    boolean isOf(Class<?> type) {
        return parameter.getType() == type;
    }

    /** Whether it stands for several values. */
    boolean isSeveral() {
        return Collection.class.isAssignableFrom(parameter.getType());
    }

    /** The type of one value. */
    private Class<?> type() {
        Type type = parameter.getParameterizedType();
        if (isSeveral()) {
            type = type instanceof ParameterizedType several ? several.getActualTypeArguments()[0] : Object.class;
            type = type instanceof WildcardType wild ? wild.getUpperBounds()[0] : type;
        }
        return type instanceof Class<?> plain ? plain : Object.class;
    }

    /** Refuses a parameter whose values a column doesn't have. */
    void requireToFit(Column column) {
        if (!fits(type(), column)) {
            throw Operation.wrong(
                    "Parameter " + parameter.getName() + " is " + type().getSimpleName() + ", and " + column.name()
                            + " is " + column.typeName() + ".",
                    "Give the parameter the column's type.");
        }
    }

    private static boolean fits(Class<?> type, Column column) {
        if (type == Object.class || column.typeName().toLowerCase(Locale.ROOT).equals("uuid")) {
            return type == Object.class || type == UUID.class || type == String.class;
        }
        return switch (column.jdbcType()) {
            case Types.BOOLEAN -> type == boolean.class || type == Boolean.class;
            case Types.TINYINT,
                    Types.SMALLINT,
                    Types.INTEGER,
                    Types.BIGINT,
                    Types.DECIMAL,
                    Types.NUMERIC,
                    Types.REAL,
                    Types.FLOAT,
                    Types.DOUBLE ->
                Number.class.isAssignableFrom(type)
                        || (type.isPrimitive() && type != boolean.class && type != char.class);
            case Types.CHAR, Types.VARCHAR, Types.LONGVARCHAR, Types.CLOB, Types.NCHAR, Types.NVARCHAR, Types.NCLOB ->
                CharSequence.class.isAssignableFrom(type) || type.isEnum() || type == UUID.class;
            case Types.DATE, Types.TIME, Types.TIMESTAMP, Types.TIMESTAMP_WITH_TIMEZONE ->
                Temporal.class.isAssignableFrom(type) || Date.class.isAssignableFrom(type) || type == Moment.class;
            case Types.BINARY, Types.VARBINARY, Types.LONGVARBINARY, Types.BLOB ->
                type == byte[].class || ByteBuffer.class.isAssignableFrom(type);
            default -> true;
        };
    }
}
