package dev.vacancy.internal.dialect;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What metadata doesn't tell of the foreign keys of a table: the columns that ON DELETE SET NULL (column, …) names, and which of them only
 * stand there, NOT ENFORCED or with their triggers switched off.
 *
 * @param emptied the columns that are named, by constraint
 * @param idle the constraints by which nothing is checked or done
 */
record PostgresForeignKeys(Map<String, List<String>> emptied, Set<String> idle) {
    private static final int SET_NULL_TAKES_COLUMNS = 15;

    static PostgresForeignKeys of(Connection connection, String schema, String table) throws SQLException {
        boolean named = connection.getMetaData().getDatabaseMajorVersion() >= SET_NULL_TAKES_COLUMNS;
        // Whether a constraint is enforced is a column that came with version 18.
        String query = "select k.conname, a.attname,"
                + " not coalesce(cast(to_jsonb(k) ->> 'conenforced' as boolean), true)"
                + " or exists (select 1 from pg_catalog.pg_trigger g where g.tgconstraint = k.oid"
                + " and g.tgenabled not in ('O', 'A'))"
                + " from pg_catalog.pg_constraint k join pg_catalog.pg_class t on t.oid = k.conrelid"
                + " join pg_catalog.pg_namespace n on n.oid = t.relnamespace"
                + " left join pg_catalog.pg_attribute a on a.attrelid = t.oid and "
                + (named ? "a.attnum = any(k.confdelsetcols)" : "false")
                + " where k.contype = 'f' and n.nspname = ? and t.relname = ?";
        PostgresForeignKeys told = new PostgresForeignKeys(new HashMap<>(), new HashSet<>());
        try (PreparedStatement statement = connection.prepareStatement(query)) {
            statement.setString(1, schema);
            statement.setString(2, table);
            try (ResultSet row = statement.executeQuery()) {
                while (row.next()) {
                    told.add(row.getString(1), row.getString(2), row.getBoolean(3));
                }
            }
        }
        return told;
    }

    private void add(String constraint, String column, boolean isIdle) {
        if (column != null) {
            emptied.computeIfAbsent(constraint, missing -> new ArrayList<>()).add(column);
        }
        if (isIdle) {
            idle.add(constraint);
        }
    }

    List<ForeignKey> complete(List<ForeignKey> keys) {
        return keys.stream()
                .map(key -> key.with(emptied.getOrDefault(key.name(), List.of()), !idle.contains(key.name())))
                .toList();
    }
}
