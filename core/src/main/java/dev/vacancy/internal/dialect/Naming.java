package dev.vacancy.internal.dialect;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.ColumnType;
import java.util.List;
import java.util.stream.IntStream;

/**
 * How a database names tables and columns, and what stands for the two ends of a link where they are compared.
 *
 * @since 0.1
 */
public interface Naming extends Comparing {
    /**
     * Returns what a cast to text names.
     *
     * @return such as {@code varchar}
     */
    default String textType() {
        return "varchar";
    }

    /**
     * Returns the schema of all tables, where metadata knows none. A name without one could be that of a temporary table, or
     * of a query inside a statement.
     *
     * @return the schema as stored
     */
    default String onlySchema() {
        return "";
    }

    /**
     * Names a table.
     *
     * @param table a table of the catalog
     * @return schema and name, quoted
     */
    default String name(Table table) {
        return name(table.schema(), table.storedName());
    }

    /**
     * Names any table, behind its schema.
     *
     * @param schema its schema as stored
     * @param table its name as stored
     * @return its name, quoted
     */
    default String name(String schema, String table) {
        return quote(schema.isEmpty() ? onlySchema() : schema) + "." + quote(table);
    }

    /**
     * Names a table in the definition of an index.
     *
     * @param table a table of the catalog
     * @return its name, with its schema where that may stand there
     */
    default String nameInIndex(Table table) {
        return name(table);
    }

    /**
     * Names a column.
     *
     * @param alias what its table is called
     * @param column a column of the catalog
     * @return its name, quoted, behind the alias
     */
    default String name(String alias, Column column) {
        return alias + "." + quote(column.storedName());
    }

    /**
     * Names columns.
     *
     * @param alias what their table is called
     * @param columns columns of the catalog
     * @return their names, quoted, each behind the alias
     */
    default List<String> names(String alias, List<Column> columns) {
        return columns.stream().map(column -> name(alias, column)).toList();
    }

    /**
     * Names columns where no table stands before them.
     *
     * @param columns columns of the catalog
     * @return their names, quoted
     */
    default List<String> names(List<Column> columns) {
        return columns.stream().map(column -> quote(column.storedName())).toList();
    }

    /**
     * Names the foreign key of a link, the way it is compared with the parent's columns.
     *
     * @param alias what the child's table is called
     * @param link a link of the catalog
     * @return its columns
     */
    default List<String> foreignKey(String alias, Link link) {
        return IntStream.range(0, link.childColumns().size())
                .mapToObj(i -> {
                    Codec own = codec(link.childColumns().get(i));
                    ColumnType other = ColumnType.of(link.parentColumns().get(i));
                    String column =
                            own.comparable(name(alias, link.childColumns().get(i)), other);
                    return own.collatedLike(column, other);
                })
                .toList();
    }

    /**
     * Names the columns that a foreign key points to, the way they are compared with it.
     *
     * @param alias what the parent's table is called
     * @param link a link of the catalog
     * @return the columns
     */
    default List<String> referenced(String alias, Link link) {
        return IntStream.range(0, link.parentColumns().size())
                .mapToObj(i -> codec(link.parentColumns().get(i))
                        .comparable(
                                name(alias, link.parentColumns().get(i)),
                                ColumnType.of(link.childColumns().get(i))))
                .toList();
    }

    /**
     * Names a schema in front of a table of ours.
     *
     * @param name its name, in small letters if it was made without quotes
     * @return words of SQL
     */
    default String schemaName(String name) {
        return quote(name);
    }

    /**
     * Quotes an identifier as a delimited identifier (ISO/IEC 9075-2, section 5.2).
     *
     * @param name the name as stored in the catalog
     * @return the name in double quotes
     */
    default String quote(String name) {
        return '"' + name.replace("\"", "\"\"") + '"';
    }
}
