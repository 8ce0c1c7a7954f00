package dev.vacancy.dialect;

import java.sql.DatabaseMetaData;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Duration;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** PostgreSQL, version 13 and later. */
final class PostgresDialect implements Dialect {
    private static final Set<String> LOCK_STATES = Set.of("55P03", "40P01");

    /** The driver's metadata calls a column with a sequence behind it serial, which is no type to cast to. */
    private static final Map<String, String> SERIAL_TYPES =
            Map.of("smallserial", "int2", "serial", "int4", "bigserial", "int8");

    @Override
    public boolean speaks(DatabaseMetaData database) throws SQLException {
        return "PostgreSQL".equals(database.getDatabaseProductName());
    }

    @Override
    public boolean isSystemSchema(String schema) {
        return schema.startsWith("pg_") || "information_schema".equals(schema);
    }

    @Override
    public Optional<Fragment> limitLockWait(Duration limit) {
        return Optional.of(Fragment.of("set local lock_timeout = " + limit.toMillis()));
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

    private static Binding array(String type, Object[] values) {
        return (statement, index) ->
                statement.setArray(index, statement.getConnection().createArrayOf(type, values));
    }
}
