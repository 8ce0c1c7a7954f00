package dev.vacancy.internal.dialect;

import dev.vacancy.catalog.Access;
import dev.vacancy.catalog.ColumnType;
import java.nio.ByteBuffer;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;

/** PostgreSQL, version 13 and later. */
final class PostgresDialect implements Dialect {
    /** A prepared statement is missing, or there already (ISO/IEC 9075-2, class 26; PostgreSQL, appendix A). */
    private static final int INDEXED = 500;

    private static final Set<String> STATEMENTS_MIXED_UP = Set.of("26000", "42P05", "08P01");

    private static final String WHEREABOUTS =
            "select (select system_identifier from pg_catalog.pg_control_system()) || ' ' || d.oid || ' ' || d.datname,"
                    + " current_schema() from pg_catalog.pg_database d where d.datname = current_database()";
    private static final int SET_NULL_TAKES_COLUMNS = 15;
    private static final Set<String> LOCK_STATES = Set.of("55P03", "40P01", "40001");

    private static final int FINEST_FRACTION = 6;

    /** The types whose values the driver gives and takes as they are; all others travel as their text. */
    private static final Set<String> PLAIN_TYPES =
            Set.of("smallint", "integer", "bigint", "boolean", "uuid", "text", "character varying");

    /** Those among them that have no lowest value before version 18. */
    private static final Set<String> UNORDERED_TYPES = Set.of("boolean", "uuid");

    /** The names by which the driver knows them. */
    private static final Map<String, String> ARRAY_NAMES = Map.of(
            "smallint", "int2", "integer", "int4", "bigint", "int8", "boolean", "bool", "character varying", "varchar");

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

    private static final int MOST_ARGUMENTS = 100;
    private static final String HEX = "\\x";

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

    @Override
    public String name() {
        return "PostgreSQL";
    }

    @Override
    public Version oldest() {
        return new Version(13, 0);
    }

    @Override
    public boolean actsAfterStatement() {
        return true;
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
    public List<String> beginReading() {
        return List.of("set transaction isolation level repeatable read, read only");
    }

    @Override
    public List<String> beginWriting(Duration longestLockWait) {
        return List.of("set transaction isolation level read committed, read write; set local lock_timeout = "
                + millis(longestLockWait));
    }

    @Override
    public boolean pipelines() {
        return true;
    }

    @Override
    public List<Setting> settingsInside(Duration longestLockWait) {
        return List.of(new Setting(
                "select setting from pg_settings where name = 'lock_timeout'",
                "set local lock_timeout = ",
                millis(longestLockWait),
                true));
    }

    /** The database's own check of foreign keys looks past the snapshot; on links that it doesn't know nothing does. */
    @Override
    public boolean overlooksChildren(int isolation, boolean declared) {
        return !declared && isolation > Connection.TRANSACTION_READ_COMMITTED;
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
    public String joinRecursively(String table, String alias, String condition) {
        return " cross join lateral (select * from " + table + " as " + alias + " where " + condition + " offset 0) as "
                + alias;
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

    /** The number of the cluster goes with its replicas; a database that was made from another one has a number of its own. */
    @Override
    public Whereabouts whereabouts(Connection connection) throws SQLException {
        return Whereabouts.ask(connection, WHEREABOUTS);
    }

    /**
     * A pooler that hands out a connection for each transaction, or for each statement, in the words and states of the server and of
     * poolers; the driver knows nothing of them.
     */
    @Override
    public Optional<Unfit> unfit(SQLException failure) {
        String message = String.valueOf(failure.getMessage());
        if (STATEMENTS_MIXED_UP.contains(String.valueOf(failure.getSQLState()))
                && message.contains("prepared statement")) {
            return Optional.of(new Unfit(
                    "A pooler seems to stand in between that hands out a connection for each transaction: it has mixed up the"
                            + " driver's prepared statements.",
                    "Nothing was changed; add prepareThreshold=0 to the address, or let the pooler keep track of prepared"
                            + " statements."));
        }
        if (message.contains("statement pooling")) {
            return Optional.of(new Unfit(
                    "A pooler stands in between that hands out a connection for each statement, so nothing is all or nothing.",
                    "Nothing was changed; let it pool by transaction or by session."));
        }
        return Optional.empty();
    }

    @Override
    public boolean isLockFailure(SQLException failure) {
        return failure.getSQLState() != null && LOCK_STATES.contains(failure.getSQLState());
    }

    @Override
    public ColumnTypes columnTypes(Connection connection) throws SQLException {
        Map<List<String>, UnaryOperator<ColumnType>> known = new HashMap<>();
        try (PreparedStatement statement = connection.prepareStatement(TYPES);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                boolean domain = "d".equals(row.getString(5));
                String castable = row.getString(7);
                String collation = row.getString(8);
                known.put(
                        List.of(row.getString(1), row.getString(2), row.getString(3)),
                        told -> type(told, domain, castable, collation));
            }
        }
        return (schema, table, column, told) -> known.getOrDefault(List.of(schema, table, column), unknown -> unknown)
                .apply(told);
    }

    /** What metadata tells of the length of a domain is that of the domain, and none at all. */
    private static ColumnType type(ColumnType told, boolean domain, String castable, String collation) {
        int jdbcType = JDBC_TYPES.getOrDefault(castable, Types.OTHER);
        boolean unlimited = domain || told.size() == Integer.MAX_VALUE;
        return new ColumnType(
                told.name(),
                jdbcType,
                unlimited ? 0 : told.size(),
                domain ? FINEST_FRACTION : told.scale(),
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

    @Override
    public Map<List<String>, List<String>> partsOfTables(Connection connection) throws SQLException {
        String query = "select n.nspname, c.relname, m.nspname, p.relname from pg_inherits i"
                + " join pg_class c on c.oid = i.inhrelid join pg_namespace n on n.oid = c.relnamespace"
                + " join pg_class p on p.oid = i.inhparent join pg_namespace m on m.oid = p.relnamespace"
                + " where c.relkind in ('r', 'p')";
        Map<List<String>, List<String>> parts = new HashMap<>();
        try (PreparedStatement statement = connection.prepareStatement(query);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                parts.put(List.of(row.getString(1), row.getString(2)), List.of(row.getString(3), row.getString(4)));
            }
        }
        return parts;
    }

    @Override
    public Map<List<String>, Access> access(Connection connection) throws SQLException {
        String query = "select n.nspname, c.relname, has_any_column_privilege(c.oid, 'SELECT'),"
                + " has_table_privilege(c.oid, 'DELETE'), has_any_column_privilege(c.oid, 'UPDATE'),"
                + " not row_security_active(c.oid)"
                + " from pg_class c join pg_namespace n on n.oid = c.relnamespace where c.relkind in ('r', 'p')"
                + " and n.nspname not like 'pg\\_%' and n.nspname <> 'information_schema'"
                + " and has_schema_privilege(n.oid, 'USAGE')";
        Map<List<String>, Access> access = new HashMap<>();
        try (PreparedStatement statement = connection.prepareStatement(query);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                access.put(
                        List.of(row.getString(1), row.getString(2)),
                        new Access(row.getBoolean(3), row.getBoolean(4), row.getBoolean(5), row.getBoolean(6), true));
            }
        }
        return access;
    }

    /** Neither policies nor triggers see TRUNCATE, those of partitions and inheriting tables neither. */
    @Override
    public Optional<Truncation> truncation(String table) {
        String whole = "with recursive r(oid) as (select cast(cast(? as text) as regclass)::oid union"
                + " select i.inhrelid from r join pg_inherits i on i.inhparent = r.oid) ";
        return Optional.of(new Truncation(
                Fragment.of("lock table " + table + " in access exclusive mode"),
                Fragment.of("truncate table " + table),
                Fragment.of(
                        whole
                                + "select bool_and(has_table_privilege(r.oid, 'TRUNCATE') and not row_security_active(r.oid))"
                                + " from r",
                        Binding.of(table)),
                Fragment.of(
                        whole + "select distinct t.tgname from r join pg_trigger t on t.tgrelid = r.oid"
                                + " where not t.tgisinternal and t.tgenabled <> 'D' and t.tgtype & 8 = 8 order by 1",
                        Binding.of(table))));
    }

    /** The statistics of the transaction count what the checks of foreign keys do too, in partitions as well. */
    @Override
    public Optional<Fragment> deletedSoFar(List<String> tables) {
        return Optional.of(Fragment.of(
                "with recursive r(n, oid) as (select t.n, cast(t.name as regclass)::oid"
                        + " from unnest(cast(? as text[])) with ordinality as t(name, n) union"
                        + " select r.n, i.inhrelid from r join pg_inherits i on i.inhparent = r.oid)"
                        + " select case when current_setting('track_counts') = 'on'"
                        + " then sum(pg_stat_get_xact_tuples_deleted(r.oid)) end from r group by r.n order by r.n",
                (statement, index) ->
                        statement.setArray(index, statement.getConnection().createArrayOf("text", tables.toArray()))));
    }

    @Override
    public String textType() {
        return "text";
    }

    @Override
    public String collatedLike(String column, ColumnType own, ColumnType parent) {
        if (own.collation().equals(parent.collation()) || !own.isText()) {
            return column;
        }
        return column + " collate " + (parent.collation().isEmpty() ? "pg_catalog.\"default\"" : parent.collation());
    }

    /** Of other collations the catalog isn't asked whether they fold anything. */
    @Override
    public boolean isTextFolded(ColumnType type) {
        return type.castable().endsWith("citext");
    }

    @Override
    public String exact(ColumnType type, String column) {
        return PLAIN_TYPES.contains(type.castable()) ? column : imageText(type, column);
    }

    @Override
    public String ordered(ColumnType type, String column) {
        return UNORDERED_TYPES.contains(type.castable()) ? "cast(" + column + " as text)" : exact(type, column);
    }

    /** The driver takes money for a number, and can't read the commas in it. */
    @Override
    public Object read(ResultSet row, int index, ColumnType type) throws SQLException {
        return type.castable().equals("money") ? row.getString(index) : Dialect.super.read(row, index, type);
    }

    @Override
    public Object readExact(ResultSet row, int index, ColumnType type) throws SQLException {
        if (PLAIN_TYPES.contains(type.castable())) {
            return Values.detached(row, index);
        }
        String text = row.getString(index);
        return text == null ? null : type.read(text);
    }

    /** The database reads the value from its text, so that types which no Java type stands for can be compared too. */
    @Override
    public Fragment value(ColumnType type, Object value) {
        // What single precision can't hold would be rounded to what it can.
        String castable =
                type.castable().equals("real") && !(value instanceof Float) ? "double precision" : type.castable();
        return PLAIN_TYPES.contains(castable)
                ? Fragment.of("cast(? as " + castable + ")", Binding.of(value))
                : Fragment.of("cast(cast(? as text) as " + castable + ")", Binding.of(ColumnType.spelling(value)));
    }

    @Override
    public Fragment among(List<String> columns, KeySet keys) {
        boolean nested = keys.types().stream().anyMatch(type -> type.castable().endsWith("[]"));
        if (columns.size() == 1 && !nested) {
            return new Fragment(
                    columns.get(0) + " = any(" + array(keys.types().get(0)) + ")",
                    List.of(binding(keys.types().get(0), keys.column(0))));
        }
        List<String> sets = new ArrayList<>();
        List<String> read = new ArrayList<>();
        List<String> names = new ArrayList<>();
        List<Binding> bindings = new ArrayList<>();
        for (int i = 0; i < columns.size(); i++) {
            ColumnType type = keys.types().get(i);
            boolean plain = PLAIN_TYPES.contains(type.castable());
            // Not an array of the type itself: that would nest an array, and spread a row out into columns.
            sets.add(plain ? array(type) : "cast(? as text[])");
            read.add(plain ? "k.c" + i : "cast(k.c" + i + " as " + type.castable() + ")");
            names.add("c" + i);
            bindings.add(binding(type, keys.column(i)));
        }
        String sql = "(" + String.join(", ", columns) + ") in (select " + String.join(", ", read) + " from unnest("
                + String.join(", ", sets) + ") as k(" + String.join(", ", names) + "))";
        return new Fragment(sql, bindings);
    }

    private static String array(ColumnType type) {
        return PLAIN_TYPES.contains(type.castable())
                ? "cast(? as " + type.castable() + "[])"
                : "cast(cast(? as text[]) as " + type.castable() + "[])";
    }

    private static Binding binding(ColumnType type, Object[] values) {
        boolean plain = PLAIN_TYPES.contains(type.castable());
        Object[] sent = plain
                ? values
                : Arrays.stream(values).map(PostgresDialect::text).toArray(String[]::new);
        String name = plain ? ARRAY_NAMES.getOrDefault(type.castable(), type.castable()) : "text";
        return (statement, index) ->
                statement.setArray(index, statement.getConnection().createArrayOf(name, sent));
    }

    private static String text(Object value) {
        return ColumnType.spelling(value instanceof byte[] bytes ? ByteBuffer.wrap(bytes) : value);
    }

    /** Zero would mean to wait without end. */
    private static long millis(Duration wait) {
        return Math.max(1, wait.toMillis());
    }

    @Override
    public boolean makesImages() {
        return true;
    }

    @Override
    public String imageText(ColumnType type, String column) {
        // A server can be told to write bytes in another way than by their digits.
        return isBytes(type) ? "(chr(92) || 'x' || encode(" + column + ", 'hex'))" : "cast(" + column + " as text)";
    }

    @Override
    public String keyText(ColumnType type, String column) {
        return isBytes(type) ? "encode(" + column + ", 'hex')" : imageText(type, column);
    }

    @Override
    public String keyOf(ColumnType type, Object value) {
        String text = String.valueOf(value);
        return isBytes(type) && text.startsWith(HEX) ? text.substring(HEX.length()) : text;
    }

    private static boolean isBytes(ColumnType type) {
        return type.castable().equals("bytea");
    }

    /** A function takes a hundred arguments at most. */
    @Override
    public Fragment imageOf(List<String> names, List<String> texts) {
        List<String> members = new ArrayList<>();
        if (names.size() <= MOST_ARGUMENTS / 2) {
            for (String text : texts) {
                members.add("cast(? as text), " + text);
            }
            return new Fragment(
                    "cast(json_build_object(" + String.join(", ", members) + ") as text)",
                    names.stream().map(Binding::of).toList());
        }
        for (int i = 0; i < names.size(); i++) {
            members.add(texts.get(i) + " as " + quote(names.get(i)));
        }
        return Fragment.of(
                "(select cast(row_to_json(r) as text) from (select " + String.join(", ", members) + ") as r)");
    }

    @Override
    public String digestOf(String bytes) {
        return "sha256(" + bytes + ")";
    }

    @Override
    public String bytesOf(String text) {
        return "convert_to(" + text + ", 'UTF8')";
    }

    /** As long as nobody has analysed the table the server takes an index for worse than to read all of it. */
    @Override
    public Fragment foundBy(String table, String alias, String column, List<String> texts, Fragment further) {
        Fragment wanted = Fragment.of(
                "unnest(?) as w(k) cross join lateral (select * from " + table + " as f where "
                        + beginning("f." + column) + " = " + beginning("w.k") + " and f." + column
                        + " = w.k offset 0) as " + alias + " where ",
                (statement, index) ->
                        statement.setArray(index, statement.getConnection().createArrayOf("text", texts.toArray())));
        return wanted.then(further);
    }

    @Override
    public String evaluatedOnce() {
        return " offset 0";
    }

    @Override
    public String boundBytes() {
        return "cast(? as bytea)";
    }

    @Override
    public String bytesType() {
        return "bytea";
    }

    /** Compared byte by byte, which takes the least time. */
    @Override
    public String keyTextType() {
        return "text collate \"C\"";
    }

    /** An entry of a B-tree has 2,704 bytes at most, so of a long key it holds the beginning. */
    @Override
    public String keyIndex(String index, String table, String first, String second) {
        return "create index " + index + " on " + table + " (" + beginning(second) + ")";
    }

    private static String beginning(String text) {
        return "substr(" + text + ", 1, " + INDEXED + ")";
    }

    @Override
    public Optional<Fragment> deletedAs(Fragment deletion, String alias, String name) {
        return Optional.of(deletion.between("with " + name + " as (", " returning " + alias + ".*) "));
    }

    /** The server takes a text without a type for whatever its column is. */
    @Override
    public Fragment fromImage(ColumnType type, Object value) {
        Binding text = (statement, index) -> statement.setObject(index, value, Types.OTHER);
        // With a type of the application's own, though, a text alone can't be compared.
        return JDBC_TYPES.containsKey(type.castable())
                ? Fragment.of("?", text)
                : Fragment.of("cast(cast(? as text) as " + type.castable() + ")", text);
    }

    /** Arrays of texts, as many as there are columns, whatever the number of rows. */
    @Override
    public Fragment rowsOf(List<ColumnType> types, List<List<Object>> images) {
        List<String> arrays = new ArrayList<>();
        List<String> names = new ArrayList<>();
        List<String> read = new ArrayList<>();
        List<Binding> bindings = new ArrayList<>();
        for (int i = 0; i < types.size(); i++) {
            int column = i;
            String[] texts = images.stream()
                    .map(image ->
                            image.get(column) == null ? null : image.get(column).toString())
                    .toArray(String[]::new);
            arrays.add("cast(? as text[])");
            names.add("c" + i);
            read.add("cast(p.c" + i + " as " + types.get(i).castable() + ")");
            bindings.add((statement, index) ->
                    statement.setArray(index, statement.getConnection().createArrayOf("text", texts)));
        }
        return new Fragment(
                "select " + String.join(", ", read) + " from unnest(" + String.join(", ", arrays) + ") as p("
                        + String.join(", ", names) + ")",
                bindings);
    }

    @Override
    public Fragment pictured(List<String> columns, List<ColumnType> types, List<List<Object>> images) {
        return rowsOf(types, images).between("(" + String.join(", ", columns) + ") in (", ")");
    }

    @Override
    public String overridingIdentity() {
        return " overriding system value ";
    }

    @Override
    public Optional<String> uniqueAmong(String index, String table, List<String> columns, String condition) {
        return Optional.of("create unique index " + index + " on " + table + " (" + String.join(", ", columns)
                + ") where " + condition);
    }

    @Override
    public boolean hasIndex(Connection connection, String name) throws SQLException {
        try (PreparedStatement query =
                connection.prepareStatement("select 1 from pg_class where relkind = 'i' and relname = ?")) {
            query.setString(1, name);
            try (ResultSet row = query.executeQuery()) {
                return row.next();
            }
        }
    }

    @Override
    public List<String> judges(Connection connection, String schema, String table) throws SQLException {
        return Judging.read(Judging.POSTGRES, connection, schema, table);
    }
}
