package dev.vacancy.internal.dialect;

import dev.vacancy.internal.catalog.Access;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * What a database tells of its own tables, beyond what metadata tells everywhere.
 *
 * @since 0.1
 */
public interface Describing {
    /**
     * Tells whether a schema belongs to the database itself, so that its tables are left out of the catalog.
     *
     * @param schema the schema's name as stored
     * @return true for the database's own
     */
    boolean isSystemSchema(String schema);

    /**
     * Returns what the columns of the catalog are, beyond what metadata tells.
     *
     * @param connection an open connection
     * @return the types
     * @throws SQLException when the database doesn't answer
     */
    default ColumnTypes columnTypes(Connection connection) throws SQLException {
        return (schema, table, column, reported) -> reported;
    }

    /**
     * Returns which part of a table's full name is its schema.
     *
     * @return the part
     */
    default Namespace namespace() {
        return Namespace.SCHEMA;
    }

    /**
     * Asks a connection which database it leads to, and which schema a statement means that names none. Two databases are never
     * the same, even if one is a copy of the other, as far as a database can tell.
     *
     * @param connection an open connection
     * @return where it leads
     * @throws SQLException when the database doesn't answer
     */
    DatabaseIdentity whereabouts(Connection connection) throws SQLException;

    /**
     * Tells whether a table of that name is there for a statement that names no schema.
     *
     * @param connection an open connection
     * @param name a name as a statement says it, or the very name where it has to be quoted
     * @return true if it is
     * @throws SQLException when the database doesn't answer
     */
    default boolean hasTable(Connection connection, String name) throws SQLException {
        return hasTable(connection, Optional.empty(), name);
    }

    /**
     * Tells whether a table of that name is there.
     *
     * @param connection an open connection
     * @param schema the schema, or empty for the one that a statement means which names none
     * @param name a name without anything that would have to be quoted
     * @return true if it is
     * @throws SQLException when the database doesn't answer
     */
    default boolean hasTable(Connection connection, Optional<String> schema, String name) throws SQLException {
        DatabaseMetaData metadata = connection.getMetaData();
        String where = schemaOf(connection, schema);
        String table = isPlain(name) ? stored(metadata, name) : name;
        try (ResultSet tables = metadata.getTables(
                namespace().catalog(connection, where), namespace().schema(where), table, null)) {
            boolean found = false;
            while (tables.next()) {
                found |= isOf(tables, where, table);
            }
            return found;
        }
    }

    /**
     * Tells whether a name means the same to every database, however that stores it.
     *
     * @param name a name
     * @return true of small letters, digits and underscores
     */
    static boolean isPlain(String name) {
        return name.matches("[a-z_][a-z0-9_]*");
    }

    /**
     * Gives a table of ours another name.
     *
     * @param prefix what stands before both names, perhaps nothing
     * @param from its name
     * @param to the other one
     * @return a statement
     */
    default String renaming(String prefix, String from, String to) {
        return "alter table " + prefix + from + " rename to " + to;
    }

    private static String stored(DatabaseMetaData metadata, String name) throws SQLException {
        return metadata.storesUpperCaseIdentifiers() ? name.toUpperCase(Locale.ROOT) : name;
    }

    /**
     * Tells whether metadata can be asked for the columns of all tables at once.
     *
     * @return false where it has to be asked for each table
     */
    default boolean describesTablesTogether() {
        return true;
    }

    /**
     * Tells whether the database enforces declared links for statements on this connection.
     *
     * @param connection an open connection
     * @return true unless enforcement is switched off
     * @throws SQLException when the database doesn't answer
     */
    default boolean enforcesLinks(Connection connection) throws SQLException {
        return true;
    }

    /**
     * Reads which tables are parts of others, such as partitions: their records are read, changed and deleted through the
     * table that they belong to.
     *
     * @param connection an open connection
     * @return schema and name of each part, with schema and name of the table above it
     * @throws SQLException when the database doesn't answer
     */
    default Map<List<String>, List<String>> partsOfTables(Connection connection) throws SQLException {
        return Map.of();
    }

    /**
     * Reads what the connection's user may do with the tables.
     *
     * @param connection an open connection
     * @return limits by schema and table as stored; a table that isn't there has none that the database tells
     * @throws SQLException when the database doesn't answer
     */
    default Map<List<String>, Access> access(Connection connection) throws SQLException {
        return Map.of();
    }

    /**
     * Reads the foreign keys of a table.
     *
     * @param connection an open connection
     * @param schema the table's schema as stored
     * @param table the table's name as stored
     * @return its foreign keys
     * @throws SQLException when the database doesn't answer
     */
    default List<ForeignKey> foreignKeys(Connection connection, String schema, String table) throws SQLException {
        return ForeignKey.fromMetadata(connection, namespace(), schema, table);
    }

    /**
     * Reads the indexes of the tables.
     *
     * @param connection an open connection
     * @return those of each table; open to questions while the connection is
     * @throws SQLException when the database doesn't answer
     */
    default Index.OfTable indexes(Connection connection) throws SQLException {
        return (schema, table) -> Index.fromMetadata(connection, namespace(), schema, table);
    }

    /**
     * Says a day without a bound value, for a view or an index.
     *
     * @param day the day
     * @return a literal
     */
    default String dateLiteral(LocalDate day) {
        return "date '" + day + "'";
    }

    /**
     * Says a truth value without a bound value.
     *
     * @param truth the value
     * @return a literal
     */
    default String truthLiteral(boolean truth) {
        return String.valueOf(truth);
    }

    /**
     * Says a text, for a default.
     *
     * @param text the text
     * @return a literal
     */
    default String textLiteral(String text) {
        return "'" + text.replace("'", "''") + "'";
    }

    /**
     * Returns the type of a column that says when.
     *
     * @return words of SQL
     */
    default String instantType() {
        return "timestamp";
    }

    /**
     * Makes columns unique among some of the records.
     *
     * @param index the index, quoted
     * @param table the table, as statements name it
     * @param columns the columns, quoted
     * @param condition which records, without a bound value
     * @return the statement; empty where the database can't
     */
    default Optional<String> uniqueAmong(String index, String table, List<String> columns, String condition) {
        return Optional.empty();
    }

    /**
     * Tells whether an index of that name is there.
     *
     * @param connection an open connection
     * @param name its name as stored
     * @return true if it is
     * @throws SQLException when the database doesn't answer
     */
    default boolean hasIndex(Connection connection, String name) throws SQLException {
        return false;
    }

    /**
     * Reads what of a table judges its records beyond its columns and keys: checks, exclusions, indexes on expressions or on some of the
     * records, triggers and rules. What those say of a record is known when it is written.
     *
     * @param connection an open connection
     * @param schema the table's schema as stored
     * @param table the table's name as stored
     * @return their names
     * @throws SQLException when the database doesn't answer
     */
    List<String> judges(Connection connection, String schema, String table) throws SQLException;

    /**
     * Tells whether a statement may write to a table what its keys and foreign keys forbid: they are checked at the end of the transaction
     * only, or not at all.
     *
     * @param connection an open connection
     * @param schema the table's schema as stored
     * @param table the table's name as stored
     * @return false where the database refuses each such statement
     * @throws SQLException when the database doesn't answer
     */
    default boolean leavesUnchecked(Connection connection, String schema, String table) throws SQLException {
        return false;
    }

    /**
     * Reads the columns that the driver's metadata leaves out.
     *
     * @param connection an open connection
     * @return those of all tables, in the order of their places
     * @throws SQLException when the database doesn't answer
     */
    default List<InvisibleColumn> invisibleColumns(Connection connection) throws SQLException {
        return List.of();
    }

    /**
     * Reads the columns of a table that the database sets by itself whenever a record is changed.
     *
     * @param connection an open connection
     * @param schema the table's schema as stored
     * @param table the table's name as stored
     * @return their names as stored
     * @throws SQLException when the database doesn't answer
     */
    default List<String> setAtEachChange(Connection connection, String schema, String table) throws SQLException {
        return List.of();
    }

    /**
     * Reads the columns of a table of ours.
     *
     * @param connection an open connection
     * @param schema the schema, or empty for the one that a statement means which names none
     * @param table the table, in small letters and underscores
     * @return the names of its columns in small letters, each with the most characters that it holds; none if it isn't there
     * @throws SQLException when the database doesn't answer
     */
    default Map<String, Integer> columnsOfTable(Connection connection, Optional<String> schema, String table)
            throws SQLException {
        DatabaseMetaData metadata = connection.getMetaData();
        String where = schemaOf(connection, schema);
        String named = isPlain(table) ? stored(metadata, table) : table;
        Map<String, Integer> columns = new HashMap<>();
        try (ResultSet row = metadata.getColumns(
                namespace().catalog(connection, where), namespace().schema(where), named, null)) {
            while (row.next()) {
                if (isOf(row, where, named)) {
                    columns.put(row.getString("COLUMN_NAME").toLowerCase(Locale.ROOT), row.getInt("COLUMN_SIZE"));
                }
            }
        }
        return columns;
    }

    /**
     * Reads the names of the columns of any table.
     *
     * @param connection an open connection
     * @param schema the table's schema as stored
     * @param table the table's name as stored
     * @return the names as stored, in their order; none if there is no such table
     * @throws SQLException when the database doesn't answer
     */
    default List<String> storedColumns(Connection connection, String schema, String table) throws SQLException {
        List<String> columns = new ArrayList<>();
        try (ResultSet row = connection
                .getMetaData()
                .getColumns(namespace().catalog(connection, schema), namespace().schema(schema), table, null)) {
            while (row.next()) {
                if (table.equals(row.getString("TABLE_NAME")) && isOf(row, schema, table)) {
                    columns.add(row.getString("COLUMN_NAME"));
                }
            }
        }
        invisibleColumns(connection).stream()
                .filter(column ->
                        column.schema().equals(schema) && column.table().equals(table))
                .forEach(column -> columns.add(Math.min(column.place() - 1, columns.size()), column.name()));
        return columns;
    }

    /** Metadata takes names for patterns, in which an underscore is any character. */
    private boolean isOf(ResultSet row, String schema, String table) throws SQLException {
        String own = row.getString("TABLE_SCHEM");
        return table.equalsIgnoreCase(row.getString("TABLE_NAME"))
                && (namespace() != Namespace.SCHEMA || own == null || own.equals(schema));
    }

    private String schemaOf(Connection connection, Optional<String> schema) throws SQLException {
        if (schema.isEmpty()) {
            return namespace().own(connection);
        }
        return isPlain(schema.get()) ? stored(connection.getMetaData(), schema.get()) : schema.get();
    }

    /**
     * Gives a column of a table of ours another type.
     *
     * @param table the table, as statements name it
     * @param column the column
     * @param type the type
     * @param required words that say that it always has a value, perhaps none
     * @return a statement; empty where a type limits nothing
     */
    default Optional<String> retyping(String table, String column, String type, String required) {
        return Optional.of("alter table " + table + " alter column " + column + " set data type " + type);
    }
}
