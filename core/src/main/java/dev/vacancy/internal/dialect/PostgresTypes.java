package dev.vacancy.internal.dialect;

import dev.vacancy.internal.catalog.ColumnType;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;

/** What PostgreSQL's own catalog tells of the types of columns, beyond what metadata does. */
final class PostgresTypes {
    private static final int FINEST_FRACTION = 6;

    /** The driver's number for the type beneath a domain, and for types that it takes for others. */
    private static final Map<String, Integer> JDBC_TYPES = Map.ofEntries(
            Map.entry("smallint", Types.SMALLINT),
            Map.entry("integer", Types.INTEGER),
            Map.entry("bigint", Types.BIGINT),
            Map.entry("numeric", Types.NUMERIC),
            Map.entry("real", Types.REAL),
            Map.entry("double precision", Types.DOUBLE),
            Map.entry("boolean", Types.BOOLEAN),
            Map.entry("text", Types.VARCHAR),
            Map.entry("character varying", Types.VARCHAR),
            Map.entry("bpchar", Types.CHAR),
            Map.entry("bytea", Types.BINARY),
            Map.entry("date", Types.DATE),
            Map.entry("time without time zone", Types.TIME),
            Map.entry("time with time zone", Types.TIME_WITH_TIMEZONE),
            Map.entry("timestamp without time zone", Types.TIMESTAMP),
            Map.entry("timestamp with time zone", Types.TIMESTAMP_WITH_TIMEZONE),
            Map.entry("\"bit\"", Types.OTHER),
            Map.entry("uuid", Types.OTHER));

    /** Names a type so that a cast to it neither cuts nor rounds, whatever the search path is. */
    private static final String TYPES = "select n.nspname, c.relname, a.attname, t.typname, e.typtype, a.atttypmod,"
            + " case when b.typnamespace = 'pg_catalog'::regnamespace then format_type(b.oid, -1)"
            + " when b.typelem <> 0 and b.typlen = -1 then (select quote_ident(m.nspname) || '.' || quote_ident(l.typname)"
            + " || '[]' from pg_type l join pg_namespace m on m.oid = l.typnamespace where l.oid = b.typelem)"
            + " else quote_ident(s.nspname) || '.' || quote_ident(b.typname) end,"
            + " case when o.oid is null or o.collname = 'default' then ''"
            + " else quote_ident(p.nspname) || '.' || quote_ident(o.collname) end"
            + " from pg_attribute a join pg_class c on c.oid = a.attrelid join pg_namespace n on n.oid = c.relnamespace"
            + " join pg_type e on e.oid = a.atttypid"
            + " join pg_type t on t.oid = e.oid"
            + " join lateral (with recursive d(oid, base) as (select e.oid, e.typbasetype union all"
            + " select y.oid, y.typbasetype from d join pg_type y on y.oid = d.base)"
            + " select oid from d where base = 0) as r on true"
            + " join pg_type b on b.oid = r.oid join pg_namespace s on s.oid = b.typnamespace"
            + " left join pg_collation o on o.oid = a.attcollation left join pg_namespace p on p.oid = o.collnamespace"
            + " where c.relkind in ('r', 'p') and a.attnum > 0 and not a.attisdropped"
            + " and n.nspname not like 'pg\\_%' and n.nspname <> 'information_schema'";

    private PostgresTypes() {}

    /** Whether the database itself knows the type, under the name that a cast has. */
    static boolean isBuiltIn(String castable) {
        return JDBC_TYPES.containsKey(castable);
    }

    static ColumnTypes read(Connection connection) throws SQLException {
        Map<List<String>, UnaryOperator<ColumnType>> known = new HashMap<>();
        try (PreparedStatement statement = connection.prepareStatement(TYPES);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                boolean domain = "d".equals(row.getString(5));
                String castable = row.getString(7);
                String collation = row.getString(8);
                known.put(
                        List.of(row.getString(1), row.getString(2), row.getString(3)),
                        reported -> type(reported, domain, castable, collation));
            }
        }
        return (schema, table, column, reported) -> known.getOrDefault(
                        List.of(schema, table, column), unknown -> unknown)
                .apply(reported);
    }

    /** What metadata tells of the length of a domain is that of the domain, and none at all. */
    private static ColumnType type(ColumnType reported, boolean domain, String castable, String collation) {
        int jdbcType = JDBC_TYPES.getOrDefault(castable, Types.OTHER);
        boolean unlimited = domain || reported.size() == Integer.MAX_VALUE;
        return new ColumnType(
                reported.name(),
                jdbcType,
                unlimited ? 0 : reported.size(),
                domain ? FINEST_FRACTION : reported.scale(),
                castable,
                collation,
                FINEST_FRACTION,
                ownForm(jdbcType));
    }

    /** Years before Christ and above 9999, the end of time, the last moment of a day, and what is no number. */
    private static String ownForm(int jdbcType) {
        return switch (jdbcType) {
            case Types.DATE, Types.TIMESTAMP, Types.TIMESTAMP_WITH_TIMEZONE ->
                "-?infinity|[0-9]{4,6}-[0-9+:. -]+( BC)?";
            case Types.TIME -> "24:00:00";
            case Types.NUMERIC, Types.REAL, Types.DOUBLE -> "NaN|-?Infinity|-?[0-9.]+e[+-]?[0-9]+";
            default -> "";
        };
    }
}
