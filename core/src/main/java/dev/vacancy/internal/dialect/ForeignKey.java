package dev.vacancy.internal.dialect;

import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * A foreign key as the database describes it.
 *
 * @param name the constraint's name, empty without one
 * @param parentSchema the schema of the table it points to
 * @param parentTable the table it points to
 * @param columns its columns
 * @param parentColumns the columns it points to, in the same order; empty for the parent's primary key
 * @param deleteRule what happens when the parent goes, as one of JDBC's {@code importedKey} numbers
 * @param emptied the columns that ON DELETE SET NULL empties; all of them unless the key lists some
 * @param deferrable whether its check can wait until the end of the transaction
 * @param enforced false if it only stands there, and nothing is checked or done by it
 * @since 0.1
 */
public record ForeignKey(
        String name,
        String parentSchema,
        String parentTable,
        List<String> columns,
        List<String> parentColumns,
        int deleteRule,
        List<String> emptied,
        boolean deferrable,
        boolean enforced) {
    /** Keeps its own copies of the lists. */
    public ForeignKey {
        columns = List.copyOf(columns);
        parentColumns = List.copyOf(parentColumns);
        emptied = List.copyOf(emptied);
    }

    /**
     * Returns this key with what metadata doesn't tell of it.
     *
     * @param fewer the columns that ON DELETE SET NULL names; none if it names none
     * @param really whether the database enforces it
     * @return the key
     */
    ForeignKey with(List<String> fewer, boolean really) {
        return new ForeignKey(
                name,
                parentSchema,
                parentTable,
                columns,
                parentColumns,
                deleteRule,
                fewer.isEmpty() ? emptied : fewer,
                deferrable,
                really);
    }

    static List<ForeignKey> fromMetadata(Connection connection, Namespace namespace, String schema, String table)
            throws SQLException {
        DatabaseMetaData metadata = connection.getMetaData();
        Map<String, Map<Integer, List<String>>> pairs = new TreeMap<>();
        Map<String, ForeignKey> keys = new TreeMap<>();
        try (ResultSet row =
                metadata.getImportedKeys(namespace.catalog(connection, schema), namespace.schema(schema), table)) {
            while (row.next()) {
                String name = row.getString("FK_NAME");
                pairs.computeIfAbsent(name, missing -> new TreeMap<>())
                        .put(
                                (int) row.getShort("KEY_SEQ"),
                                List.of(row.getString("FKCOLUMN_NAME"), row.getString("PKCOLUMN_NAME")));
                keys.put(
                        name,
                        new ForeignKey(
                                name,
                                namespace.of(row, "PKTABLE"),
                                row.getString("PKTABLE_NAME"),
                                List.of(),
                                List.of(),
                                row.getShort("DELETE_RULE"),
                                List.of(),
                                row.getShort("DEFERRABILITY") != DatabaseMetaData.importedKeyNotDeferrable,
                                true));
            }
        }
        List<ForeignKey> complete = new ArrayList<>();
        keys.forEach((name, key) ->
                complete.add(key.over(pairs.get(name).values().stream().toList())));
        return complete;
    }

    private ForeignKey over(List<List<String>> pairs) {
        List<String> own = pairs.stream().map(pair -> pair.get(0)).toList();
        List<String> referred = pairs.stream().map(pair -> pair.get(1)).toList();
        return new ForeignKey(name, parentSchema, parentTable, own, referred, deleteRule, own, deferrable, enforced);
    }
}
