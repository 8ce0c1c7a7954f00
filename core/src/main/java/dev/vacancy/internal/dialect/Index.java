package dev.vacancy.internal.dialect;

import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * An index over a whole table, as the database describes it.
 *
 * @param columns its columns by their names as stored, first to last; another text for an expression
 * @param unique whether no two records may have the same values
 * @since 0.1
 */
public record Index(List<String> columns, boolean unique) {
    /** Keeps its own copy of the list. */
    public Index {
        columns = List.copyOf(columns);
    }

    /** Tells the indexes of a table. */
    @FunctionalInterface
    public interface OfTable {
        /**
         * Returns the indexes of a table.
         *
         * @param schema the table's schema as stored
         * @param table the table's name as stored
         * @return its indexes, unique ones first
         * @throws SQLException when the database doesn't answer
         */
        List<Index> of(String schema, String table) throws SQLException;
    }

    static List<Index> fromMetadata(Connection connection, Namespace namespace, String schema, String table)
            throws SQLException {
        Map<String, Map<Integer, String>> columns = new LinkedHashMap<>();
        Map<String, Boolean> unique = new LinkedHashMap<>();
        try (ResultSet rows = connection
                .getMetaData()
                .getIndexInfo(namespace.catalog(connection, schema), namespace.schema(schema), table, false, true)) {
            while (rows.next()) {
                String name = rows.getString("INDEX_NAME");
                if (name == null || rows.getString("FILTER_CONDITION") != null) {
                    continue;
                }
                String column = rows.getString("COLUMN_NAME");
                columns.computeIfAbsent(name, missing -> new TreeMap<>())
                        .put((int) rows.getShort("ORDINAL_POSITION"), column == null ? "" : column);
                unique.put(name, !rows.getBoolean("NON_UNIQUE"));
            }
        }
        List<Index> indexes = new ArrayList<>();
        columns.forEach((name, positions) -> indexes.add(new Index(List.copyOf(positions.values()), unique.get(name))));
        return indexes;
    }
}
