package dev.vacancy.internal.catalog;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import java.util.HashSet;
import java.util.List;

/**
 * A table with its columns and keys.
 *
 * @param name the name as people write it; with its schema in front when that isn't the connection's own
 * @param schema the schema as stored
 * @param storedName the name as the database stores it
 * @param columns all columns in their order
 * @param primaryKey the columns of the primary key in the key's order, empty without one
 * @param uniqueKeys the columns of each other unique key
 * @param indexes the columns of each index, as far as they are plain columns
 * @param conversion turns what a caller gives into values
 * @since 0.1
 */
public record CatalogTable(
        String name,
        String schema,
        String storedName,
        List<Column> columns,
        List<Column> primaryKey,
        List<List<Column>> uniqueKeys,
        List<List<Column>> indexes,
        Conversion conversion)
        implements Table {
    /** Keeps its own copies of the lists. */
    public CatalogTable {
        columns = List.copyOf(columns);
        primaryKey = List.copyOf(primaryKey);
        uniqueKeys = List.copyOf(uniqueKeys);
        indexes = List.copyOf(indexes);
    }

    /** A table whose values are of SQL's types. */
    public CatalogTable(
            String name,
            String schema,
            String storedName,
            List<Column> columns,
            List<Column> primaryKey,
            List<List<Column>> uniqueKeys,
            List<List<Column>> indexes) {
        this(name, schema, storedName, columns, primaryKey, uniqueKeys, indexes, Conversion.bySqlType());
    }

    @Override
    public List<Column> identity() {
        return primaryKey.isEmpty()
                ? uniqueKeys.stream()
                        .filter(key -> key.stream().noneMatch(Column::nullable))
                        .findFirst()
                        .orElse(List.of())
                : primaryKey;
    }

    /**
     * Tells whether an index finds records by some columns.
     *
     * @param wanted the columns, in any order
     * @return true if an index begins with exactly these
     */
    public boolean isIndexed(List<Column> wanted) {
        return indexes.stream()
                .filter(index -> index.size() >= wanted.size())
                .anyMatch(index -> new HashSet<>(index.subList(0, wanted.size())).containsAll(wanted));
    }

    /**
     * Returns the columns that name a record.
     *
     * @return {@link #identity()}, at least one
     * @throws InvalidRequestException when there are none
     */
    public List<Column> requireIdentity() {
        List<Column> identity = identity();
        if (identity.isEmpty()) {
            throw new InvalidRequestException(
                            FailureCode.NO_KEY,
                            "Table " + name + " has no primary key, so no record of it can be named.",
                            "Give the table a primary key, or delete the parent that its records belong to.")
                    .about("table", name);
        }
        return identity;
    }

    @Override
    public Column column(String given) {
        return Names.find(given, columns, Column::storedName, Column::name)
                .orElseThrow(() -> new InvalidRequestException(
                                FailureCode.UNKNOWN_COLUMN,
                                "Table " + name + " has no column '" + given + "'.",
                                Names.suggestion(
                                        given,
                                        columns.stream().map(Column::name).toList()))
                        .about("table", name)
                        .about("column", given));
    }

    /**
     * Turns a value into the type of a column. Text is read the way that type is written in ISO 8601, RFC 9562 or plain
     * digits; nothing is trimmed or rounded.
     *
     * @param column a column of this table
     * @param given the value, of that type or as text
     * @return the value of the column's Java type
     * @throws InvalidRequestException when it is null or has another type
     */
    public Object convert(Column column, Object given) {
        return conversion.convert(this, column, given);
    }

    /**
     * Tells whether the database can compare a column with a value without rounding it.
     *
     * @param column a column of this table
     * @param value what {@link #convert} made of a value
     * @return false for a time that is finer than any that the database tells apart
     */
    public boolean isComparable(Column column, Object value) {
        return HeldValues.fractionDigits(value) <= ColumnType.of(column).finest();
    }

    /** Two tables are the same when schema and stored name are. */
    @Override
    public boolean equals(Object other) {
        return other instanceof CatalogTable table
                && table.schema.equals(schema)
                && table.storedName.equals(storedName);
    }

    @Override
    public int hashCode() {
        return 31 * schema.hashCode() + storedName.hashCode();
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
    public static CatalogTable of(Table seen) {
        return (CatalogTable) seen;
    }
}
