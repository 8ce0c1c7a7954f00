package dev.vacancy.declared;

import dev.vacancy.Moment;
import dev.vacancy.catalog.Column;
import dev.vacancy.internal.catalog.ValueType;
import java.lang.reflect.Parameter;
import java.lang.reflect.ParameterizedType;
import java.lang.reflect.Type;
import java.lang.reflect.WildcardType;
import java.nio.ByteBuffer;
import java.time.temporal.Temporal;
import java.util.Collection;
import java.util.Date;
import java.util.Map;
import java.util.UUID;

/**
 * A parameter of a method.
 *
 * @param parameter the parameter
 * @param place its place among them, counted from 0
 */
record MethodParameter(Parameter parameter, int place) {
    /** In which other type values of some come as well. */
    private static final Map<Class<?>, Class<?>> OTHERWISE =
            Map.of(Boolean.class, boolean.class, UUID.class, String.class, byte[].class, ByteBuffer.class);

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
        Class<?> own = ValueType.of(column);
        if (type == Object.class || own == Object.class) {
            return true;
        }
        if (Number.class.isAssignableFrom(own)) {
            return Number.class.isAssignableFrom(type)
                    || (type.isPrimitive() && type != boolean.class && type != char.class);
        }
        if (Temporal.class.isAssignableFrom(own)) {
            return Temporal.class.isAssignableFrom(type) || Date.class.isAssignableFrom(type) || type == Moment.class;
        }
        if (own == String.class) {
            return CharSequence.class.isAssignableFrom(type) || type.isEnum() || type == UUID.class;
        }
        return type == own || OTHERWISE.getOrDefault(own, own) == type;
    }
}
