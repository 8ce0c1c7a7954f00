package dev.vacancy.internal.catalog;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import java.util.Optional;

/**
 * A column of a table.
 *
 * @param name the name as people write it
 * @param storedName the name as the database stores it
 * @param type the type
 * @param nullable whether it may be null
 * @param declaredDefault its default as the schema declares it, empty without one
 * @param generated whether the database computes it, so that it can't be written
 * @param numbered whether the database numbers the records in it where nothing else is given
 * @since 0.1
 */
public record CatalogColumn(
        String name,
        String storedName,
        ColumnType type,
        boolean nullable,
        Optional<String> declaredDefault,
        boolean generated,
        boolean numbered)
        implements Column {
    @Override
    public String typeName() {
        return type.name();
    }

    @Override
    public int jdbcType() {
        return type.jdbcType();
    }

    /**
     * Tells whether the column holds text that a person could read as a label.
     *
     * @return true for character types, large objects not among them
     */
    public boolean isText() {
        return type.isText() || type.isEnumeration();
    }

    /**
     * Tells whether the column holds points in time with their offset from UTC.
     *
     * @return true for a timestamp with time zone
     */
    public boolean isZoned() {
        return type.isZoned();
    }

    /**
     * Tells whether this column holds a value of its type exactly, without rounding or cutting it.
     *
     * @param value what {@link Table#convert} made of a value
     * @return false if no record can hold it
     */
    public boolean holds(Object value) {
        return HeldValues.holds(type, value);
    }

    // Columns are compared all the time, mostly with themselves.
    @Override
    public boolean equals(Object other) {
        return this == other
                || (other instanceof CatalogColumn column
                        && storedName.equals(column.storedName)
                        && name.equals(column.name)
                        && type.equals(column.type)
                        && nullable == column.nullable
                        && declaredDefault.equals(column.declaredDefault)
                        && generated == column.generated
                        && numbered == column.numbered);
    }

    @Override
    public int hashCode() {
        return storedName.hashCode();
    }

    @Override
    public String toString() {
        return name;
    }

    /**
     * Returns the engine's side of what an application sees.
     *
     * @param seen what the application sees
     * @return the same
     */
    public static CatalogColumn of(Column seen) {
        return (CatalogColumn) seen;
    }
}
