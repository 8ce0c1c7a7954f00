package dev.vacancy.internal.dialect;

import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.ColumnType;
import java.math.BigDecimal;
import java.nio.ByteBuffer;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * SQLite, version 3.41 and later. It has no types for dates and times; they are text as in ISO 8601, with a space
 * between date and time, the way its own functions write them.
 */
final class SqliteDialect implements Dialect {
    private static final int BUSY = 5;
    private static final int LOCKED = 6;
    private static final int PRIMARY_CODE = 0xff;
    private static final int FINEST_FRACTION = 9;
    private static final String INDEXES = "select t.name, i.name, i.\"unique\", x.name from sqlite_schema t"
            + " join pragma_index_list(t.name) i join pragma_index_xinfo(i.name) x"
            + " where t.type = 'table' and x.key and not i.partial order by t.name, i.\"unique\" desc, i.seq, x.seqno";
    private static final BigDecimal BEYOND_ALL_NUMBERS = new BigDecimal("9e999");

    /** The fewest variables that a statement can have by default is 999. */
    private static final int MOST_WRITTEN_OUT = 900;

    /** The collation of each column that is part of a key. */
    private static final String COLLATIONS = "select t.name, x.name, x.coll from sqlite_schema t,"
            + " pragma_index_list(t.name) i, pragma_index_xinfo(i.name) x"
            + " where t.type = 'table' and i.\"unique\" and x.key and x.name is not null and x.coll <> 'BINARY'";

    private static final Map<String, Integer> DELETE_RULES = Map.of(
            "CASCADE", DatabaseMetaData.importedKeyCascade,
            "SET NULL", DatabaseMetaData.importedKeySetNull,
            "SET DEFAULT", DatabaseMetaData.importedKeySetDefault,
            "RESTRICT", DatabaseMetaData.importedKeyRestrict);

    private final Codecs<SqliteCodec> codecs = new Codecs<>(SqliteCodec::of);

    @Override
    public SqliteCodec codec(ColumnType type) {
        return codecs.of(type);
    }

    @Override
    public Reshaping reshaping() {
        return new SqliteReshaping(this);
    }

    @Override
    public String name() {
        return "SQLite";
    }

    @Override
    public Version oldest() {
        return new Version(3, 41);
    }

    /** It gives up a thousand levels down. */
    @Override
    public int deepestCascade() {
        return 900;
    }

    @Override
    public boolean speaks(DatabaseMetaData database) throws SQLException {
        return "SQLite".equals(database.getDatabaseProductName());
    }

    @Override
    public Namespace namespace() {
        return Namespace.NONE;
    }

    @Override
    public String onlySchema() {
        return "main";
    }

    @Override
    public boolean isSystemSchema(String schema) {
        return false;
    }

    /** The driver asks by one query with a part for each column, and SQLite limits the number of parts. */
    @Override
    public boolean describesTablesTogether() {
        return false;
    }

    @Override
    public List<Setting> settings(Duration longestLockWait) {
        return List.of(
                new Setting("pragma foreign_keys", "pragma foreign_keys = ", 1, false),
                new Setting("pragma busy_timeout", "pragma busy_timeout = ", longestLockWait.toMillis(), false));
    }

    /** Whether foreign keys are enforced can't be changed inside a transaction. */
    @Override
    public List<Setting> settingsInside(Duration longestLockWait) {
        return List.of(new Setting("pragma busy_timeout", "pragma busy_timeout = ", longestLockWait.toMillis(), true));
    }

    @Override
    public boolean enforcesLinks(Connection connection) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement("pragma foreign_keys");
                ResultSet row = statement.executeQuery()) {
            return row.next() && row.getBoolean(1);
        }
    }

    /**
     * Takes the lock for writing, which is one for the whole database. A transaction that has read before it asks is
     * refused when somebody else wrote in between.
     */
    @Override
    public Optional<Fragment> beginWriting(String table, String column) {
        return Optional.of(Fragment.of("update " + table + " set " + column + " = " + column + " where 0"));
    }

    /** A trigger may keep a row by RAISE(IGNORE), and the rest of the statement goes on. */
    @Override
    public boolean deletesUncounted() {
        return false;
    }

    @Override
    public Fragment locking(Fragment query) {
        return query;
    }

    @Override
    public Optional<Fragment> skippingLocked(Fragment query) {
        return Optional.empty();
    }

    @Override
    public DatabaseIdentity whereabouts(Connection connection) throws SQLException {
        DatabaseIdentity reported =
                DatabaseIdentity.ask(connection, "select file, '' from pragma_database_list where name = 'main'");
        return reported.database() == null || reported.database().isEmpty()
                ? new DatabaseIdentity(
                        DatabaseIdentity.PROCESS + " "
                                + connection.getMetaData().getURL(),
                        "")
                : reported;
    }

    @Override
    public boolean isLockFailure(SQLException failure) {
        int code = failure.getErrorCode() & PRIMARY_CODE;
        return code == BUSY || code == LOCKED;
    }

    @Override
    public Optional<Deferral> deferral() {
        return Optional.of(new Deferral("pragma defer_foreign_keys = on", "pragma defer_foreign_keys = off"));
    }

    @Override
    public Fragment noneOf(String column, ColumnType type, List<Object> values) {
        List<Object> meant = values.stream().map(codec(type)::meant).toList();
        return Dialect.super.noneOf(codec(type).comparand(column), type, meant);
    }

    /** Triggers count too, so where there are any the number says nothing. */
    @Override
    public Optional<Fragment> changedSoFar() {
        return Optional.of(Fragment.of("select case when exists (select 1 from sqlite_schema where type = 'trigger')"
                + " then null else total_changes() end"));
    }

    @Override
    public String textType() {
        return "text";
    }

    /** A small set is written out: its values come as they are stored, whatever class of storage they have. */
    @Override
    public Fragment among(List<String> columns, KeySet keys) {
        String left = columns.size() == 1 ? columns.get(0) : "(" + String.join(", ", columns) + ")";
        if (keys.tuples().size() <= MOST_WRITTEN_OUT / columns.size()) {
            String row = columns.stream().map(column -> "?").collect(Collectors.joining(", ", "(", ")"));
            List<Binding> bindings = new ArrayList<>();
            keys.tuples().forEach(tuple -> tuple.forEach(value -> bindings.add(Binding.of(SqliteCodec.sent(value)))));
            String rows = keys.tuples().stream().map(tuple -> row).collect(Collectors.joining(", "));
            return new Fragment(left + " in (values " + rows + ")", bindings);
        }
        String names = IntStream.range(0, columns.size())
                .mapToObj(i -> fromJson(columns.size(), i, JsonKeys.hasBytes(keys, i)))
                .collect(Collectors.joining(", "));
        String sql = left + " in (select " + names + " from json_each(?) as k)";
        return Fragment.of(sql, Binding.of(JsonKeys.of(keys, SqliteDialect::inJson)));
    }

    /** Bytes can stand in one column with texts, and are told from them by the array that they come in. */
    private static String fromJson(int columns, int column, boolean bytes) {
        String value = columns == 1 ? "k.value" : "k.value ->> " + column;
        if (!bytes) {
            return value;
        }
        String path = "$[" + column + "]";
        return columns == 1
                ? "case k.type when 'array' then unhex(k.value ->> 0) else k.value end"
                : "case json_type(k.value, '" + path + "') when 'array' then unhex(k.value ->> '" + path + "[0]') else "
                        + value + " end";
    }

    private static Object inJson(Object value) {
        if (value instanceof ByteBuffer bytes) {
            return List.of(Bytes.hex(bytes));
        }
        // JSON has no infinity, but numbers that are too large for anything else.
        return value instanceof Double number && number.isInfinite()
                ? BEYOND_ALL_NUMBERS.multiply(BigDecimal.valueOf(Math.signum(number)))
                : SqliteCodec.sent(value);
    }

    /** An update can't name a column's default. */
    @Override
    public Fragment defaultOf(String declared) {
        return Fragment.of(declared == null ? "null" : "(" + declared + ")");
    }

    /** A column has the type that its definition names, though the driver tells text for most of them. */
    @Override
    public ColumnTypes columnTypes(Connection connection) throws SQLException {
        Map<List<String>, String> collations = new HashMap<>();
        try (PreparedStatement statement = connection.prepareStatement(COLLATIONS);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                collations.put(List.of(row.getString(1), row.getString(2)), row.getString(3));
            }
        }
        return (schema, table, column, reported) -> new ColumnType(
                reported.name(),
                SqliteCodec.jdbcType(reported.name(), reported.jdbcType()),
                0,
                Integer.MAX_VALUE,
                reported.name(),
                collations.getOrDefault(List.of(table, column), ""),
                FINEST_FRACTION,
                // Whatever a column is declared as, any text can be in it; in one for whole numbers that is a mistake.
                SqliteCodec.jdbcType(reported.name(), reported.jdbcType()) == Types.BIGINT ? "" : ColumnType.ANY_TEXT);
    }

    /** The driver's metadata knows too little of keys without a name and of those that name no parent's columns. */
    @Override
    public List<ForeignKey> foreignKeys(Connection connection, String schema, String table) throws SQLException {
        String query = "select k.id, coalesce(t.name, k.\"table\"), k.\"from\", k.\"to\", k.on_delete"
                + " from pragma_foreign_key_list(?) k left join sqlite_schema t"
                + " on t.type = 'table' and lower(t.name) = lower(k.\"table\") order by k.id desc, k.seq";
        Map<Integer, List<List<String>>> rows = new TreeMap<>();
        try (PreparedStatement statement = connection.prepareStatement(query)) {
            statement.setString(1, table);
            try (ResultSet row = statement.executeQuery()) {
                while (row.next()) {
                    String to = row.getString(4) == null ? "" : row.getString(4);
                    rows.computeIfAbsent(-row.getInt(1), missing -> new ArrayList<>())
                            .add(List.of(row.getString(2), row.getString(3), to, row.getString(5)));
                }
            }
        }
        return rows.values().stream().map(SqliteDialect::foreignKey).toList();
    }

    private static ForeignKey foreignKey(List<List<String>> rows) {
        List<String> columns = rows.stream().map(row -> row.get(1)).toList();
        List<String> referred = rows.stream()
                .map(row -> row.get(2))
                .filter(name -> !name.isEmpty())
                .toList();
        int rule = DELETE_RULES.getOrDefault(rows.get(0).get(3), DatabaseMetaData.importedKeyNoAction);
        // Any key can be deferred by a pragma, but RESTRICT is checked at once all the same.
        boolean deferrable = rule != DatabaseMetaData.importedKeyRestrict;
        return new ForeignKey("", "", rows.get(0).get(0), columns, referred, rule, columns, deferrable, true);
    }

    /** Metadata doesn't tell which indexes are on a part of the records only. */
    @Override
    public Index.OfTable indexes(Connection connection) throws SQLException {
        Map<String, Map<String, List<String>>> columns = new LinkedHashMap<>();
        Set<String> unique = new HashSet<>();
        try (PreparedStatement query = connection.prepareStatement(INDEXES);
                ResultSet row = query.executeQuery()) {
            while (row.next()) {
                String index = row.getString(2);
                String column = row.getString(4);
                columns.computeIfAbsent(row.getString(1), missing -> new LinkedHashMap<>())
                        .computeIfAbsent(index, missing -> new ArrayList<>())
                        .add(column == null ? "" : column);
                if (row.getBoolean(3)) {
                    unique.add(index);
                }
            }
        }
        return (schema, table) -> columns.getOrDefault(table, Map.of()).entrySet().stream()
                .map(index -> new Index(List.copyOf(index.getValue()), unique.contains(index.getKey())))
                .toList();
    }

    @Override
    public String bytesType() {
        return "blob";
    }

    /** A type is a preference here. */
    @Override
    public boolean holdsAnything() {
        return true;
    }

    @Override
    public Optional<String> uniqueAmong(String index, String table, List<String> columns, String condition) {
        return Optional.of("create unique index " + index + " on " + table + " (" + String.join(", ", columns)
                + ") where " + condition);
    }

    @Override
    public boolean hasIndex(Connection connection, String name) throws SQLException {
        try (PreparedStatement query =
                connection.prepareStatement("select 1 from sqlite_schema where type = 'index' and name = ?")) {
            query.setString(1, name);
            try (ResultSet row = query.executeQuery()) {
                return row.next();
            }
        }
    }

    @Override
    public String dateLiteral(LocalDate day) {
        return "'" + day + "'";
    }

    @Override
    public String truthLiteral(boolean truth) {
        return truth ? "1" : "0";
    }

    @Override
    public String nameInIndex(Table table) {
        return quote(table.storedName());
    }

    @Override
    public List<String> judges(Connection connection, String schema, String table) throws SQLException {
        return Judging.read(Judging.SQLITE, connection, schema, table);
    }

    @Override
    public Optional<String> retyping(String table, String column, String type, String required) {
        return Optional.empty();
    }
}
