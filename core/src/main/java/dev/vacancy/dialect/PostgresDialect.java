package dev.vacancy.dialect;

import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Duration;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/** PostgreSQL, version 13 and later. */
final class PostgresDialect implements Dialect {
    private static final int SET_NULL_TAKES_COLUMNS = 15;
    private static final Set<String> LOCK_STATES = Set.of("55P03", "40P01");

    /** The driver's metadata calls a column with a sequence behind it serial, which is no type to cast to. */
    private static final Map<String, String> SERIAL_TYPES =
            Map.of("smallserial", "int2", "serial", "int4", "bigserial", "int8");

    @Override
    public String name() {
        return "PostgreSQL";
    }

    @Override
    public boolean speaks(DatabaseMetaData database) throws SQLException {
        return "PostgreSQL".equals(database.getDatabaseProductName());
    }

    @Override
    public boolean isSystemSchema(String schema) {
        return schema.startsWith("pg_") || "information_schema".equals(schema);
    }

    @Override
    public List<Setting> settings(Duration longestLockWait) {
        return List.of(new Setting(
                "select setting from pg_settings where name = 'lock_timeout'",
                "set lock_timeout = ",
                longestLockWait.toMillis()));
    }

    /** The weakest lock that holds off inserts and updates and still lets others read and lock records. */
    @Override
    public Optional<Fragment> lockTable(String table) {
        return Optional.of(Fragment.of("lock table " + table + " in share row exclusive mode"));
    }

    @Override
    public Optional<Deferral> deferral() {
        return Optional.of(new Deferral("set constraints all deferred", "set constraints all immediate"));
    }

    /** The planner expects many rows in each round and would read the whole table; this makes it use an index. */
    @Override
    public String joinRecursively(String table, String name, String condition) {
        return " cross join lateral (select * from " + table + " where " + condition + " offset 0) as " + name;
    }

    /** The metadata doesn't tell the columns that ON DELETE SET NULL (column, …) names. */
    @Override
    public List<ForeignKey> foreignKeys(Connection connection, String schema, String table) throws SQLException {
        List<ForeignKey> keys = Dialect.super.foreignKeys(connection, schema, table);
        if (keys.isEmpty() || connection.getMetaData().getDatabaseMajorVersion() < SET_NULL_TAKES_COLUMNS) {
            return keys;
        }
        Map<String, List<String>> emptied = columnsToEmpty(connection, schema, table);
        return keys.stream()
                .map(key -> emptied.containsKey(key.name()) ? key.emptying(emptied.get(key.name())) : key)
                .toList();
    }

    private static Map<String, List<String>> columnsToEmpty(Connection connection, String schema, String table)
            throws SQLException {
        String query = "select k.conname, a.attname from pg_constraint k"
                + " join pg_class t on t.oid = k.conrelid join pg_namespace n on n.oid = t.relnamespace"
                + " join pg_attribute a on a.attrelid = t.oid and a.attnum = any(k.confdelsetcols)"
                + " where n.nspname = ? and t.relname = ?";
        Map<String, List<String>> emptied = new HashMap<>();
        try (PreparedStatement statement = connection.prepareStatement(query)) {
            statement.setString(1, schema);
            statement.setString(2, table);
            try (ResultSet row = statement.executeQuery()) {
                while (row.next()) {
                    emptied.computeIfAbsent(row.getString(1), missing -> new ArrayList<>())
                            .add(row.getString(2));
                }
            }
        }
        return emptied;
    }

    @Override
    public boolean isLockFailure(SQLException failure) {
        return failure.getSQLState() != null && LOCK_STATES.contains(failure.getSQLState());
    }

    /** The cast lets a value be compared with types that no Java type stands for, such as enumerations. */
    @Override
    public Fragment value(String type, Object value) {
        return Fragment.of("cast(? as " + castable(type) + ")", Binding.of(value));
    }

    @Override
    public Fragment among(List<String> columns, KeySet keys) {
        List<String> arrays = new ArrayList<>();
        List<Binding> bindings = new ArrayList<>();
        for (int i = 0; i < columns.size(); i++) {
            String type = castable(keys.types().get(i));
            arrays.add("cast(? as " + type + "[])");
            bindings.add(array(type, keys.column(i)));
        }
        String sql = columns.size() == 1
                ? columns.get(0) + " = any(" + arrays.get(0) + ")"
                : "(" + String.join(", ", columns) + ") in (select * from unnest(" + String.join(", ", arrays) + "))";
        return new Fragment(sql, bindings);
    }

    /** A timestamp with time zone comes as {@link java.sql.Timestamp} unless it is asked for by its own type. */
    @Override
    public Object read(ResultSet row, int index) throws SQLException {
        return "timestamptz".equals(row.getMetaData().getColumnTypeName(index))
                ? row.getObject(index, OffsetDateTime.class)
                : Dialect.super.read(row, index);
    }

    private static String castable(String type) {
        return SERIAL_TYPES.getOrDefault(type, type);
    }

    /** The driver takes binary values only in an array of their own type. */
    private static Binding array(String type, Object[] values) {
        boolean binary = values.length > 0 && Stream.of(values).allMatch(byte[].class::isInstance);
        Object[] typed = binary ? Arrays.copyOf(values, values.length, byte[][].class) : values;
        return (statement, index) ->
                statement.setArray(index, statement.getConnection().createArrayOf(type, typed));
    }
}
