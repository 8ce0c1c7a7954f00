package dev.vacancy.dialect;

import java.math.BigDecimal;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.UUID;
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
    private static final Map<String, Integer> DELETE_RULES = Map.of(
            "CASCADE", DatabaseMetaData.importedKeyCascade,
            "SET NULL", DatabaseMetaData.importedKeySetNull,
            "SET DEFAULT", DatabaseMetaData.importedKeySetDefault,
            "RESTRICT", DatabaseMetaData.importedKeyRestrict);

    @Override
    public String name() {
        return "SQLite";
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
    public boolean isSystemSchema(String schema) {
        return false;
    }

    @Override
    public boolean takesReadOnly() {
        return false;
    }

    @Override
    public int readingIsolation() {
        return Connection.TRANSACTION_SERIALIZABLE;
    }

    @Override
    public int writingIsolation() {
        return Connection.TRANSACTION_SERIALIZABLE;
    }

    @Override
    public List<Setting> settings(Duration longestLockWait) {
        return List.of(
                new Setting("pragma foreign_keys", "pragma foreign_keys = ", 1),
                new Setting("pragma busy_timeout", "pragma busy_timeout = ", longestLockWait.toMillis()));
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

    @Override
    public Fragment locking(Fragment query) {
        return query;
    }

    @Override
    public Optional<Fragment> skippingLocked(Fragment query) {
        return Optional.empty();
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
    public Fragment value(String type, Object value) {
        return Fragment.of("?", Binding.of(stored(value)));
    }

    /** SQLite's LIKE takes ASCII letters of either case for the same, unlike its comparisons; its GLOB doesn't. */
    @Override
    public Fragment like(String column, String pattern) {
        StringBuilder glob = new StringBuilder();
        pattern.codePoints().forEach(point -> {
            switch (point) {
                case '%' -> glob.append('*');
                case '_' -> glob.append('?');
                case '*', '?', '[' -> glob.append('[').appendCodePoint(point).append(']');
                default -> glob.appendCodePoint(point);
            }
        });
        return Fragment.of(column + " glob ?", Binding.of(glob.toString()));
    }

    @Override
    public Fragment among(List<String> columns, KeySet keys) {
        String names = IntStream.range(0, columns.size())
                .mapToObj(i -> {
                    String value = columns.size() == 1 ? "value" : "value ->> " + i;
                    return JsonKeys.isHexadecimal(keys, i) ? "unhex(" + value + ")" : value;
                })
                .collect(Collectors.joining(", "));
        String sql = (columns.size() == 1 ? columns.get(0) : "(" + String.join(", ", columns) + ")") + " in (select "
                + names + " from json_each(?))";
        return Fragment.of(sql, Binding.of(JsonKeys.of(keys, SqliteDialect::stored)));
    }

    /** An update can't name a column's default. */
    @Override
    public Fragment defaultOf(String declared) {
        return Fragment.of(declared == null ? "null" : "(" + declared + ")");
    }

    /** A column has the type that its definition names, though the driver tells text for most of them. */
    @Override
    public int jdbcType(String type, int told) {
        return switch (type.toUpperCase(Locale.ROOT)) {
            case "DATE" -> Types.DATE;
            case "TIME" -> Types.TIME;
            case "TIMESTAMP", "DATETIME" -> Types.TIMESTAMP;
            case "BOOLEAN" -> Types.BOOLEAN;
            case "BIGINT", "INTEGER", "INT" -> Types.BIGINT;
            case "SMALLINT", "TINYINT" -> Types.SMALLINT;
            case "NUMERIC", "DECIMAL" -> Types.NUMERIC;
            case "REAL", "DOUBLE", "FLOAT", "DOUBLE PRECISION" -> Types.DOUBLE;
            case "BLOB", "BINARY", "VARBINARY" -> Types.VARBINARY;
            default -> told;
        };
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
        return new ForeignKey("", "", rows.get(0).get(0), columns, referred, rule, columns, deferrable);
    }

    /** Values are stored in the few classes that SQLite has; a column's declared type says what they mean. */
    @Override
    public Object read(ResultSet row, int index) throws SQLException {
        Object value = Values.detached(row, index);
        String type = row.getMetaData().getColumnTypeName(index);
        try {
            return value == null || type == null ? value : meant(value, type.toUpperCase(Locale.ROOT));
        } catch (DateTimeException | IllegalArgumentException otherwise) {
            return value;
        }
    }

    private static Object meant(Object value, String type) {
        if (value instanceof String text) {
            return switch (type) {
                case "DATE" -> LocalDate.parse(text);
                case "TIME" -> LocalTime.parse(text);
                case "TIMESTAMP", "DATETIME" -> LocalDateTime.parse(text.replace(' ', 'T'));
                case "UUID" -> UUID.fromString(text);
                default -> text;
            };
        }
        if (value instanceof Number number) {
            return switch (type) {
                case "BOOLEAN" -> number.longValue() != 0;
                case "NUMERIC", "DECIMAL" -> new BigDecimal(number.toString());
                default -> number;
            };
        }
        return value;
    }

    private static Object stored(Object value) {
        if (value instanceof LocalDateTime time) {
            return DateTimeFormatter.ISO_LOCAL_DATE.format(time) + " " + DateTimeFormatter.ISO_LOCAL_TIME.format(time);
        }
        return value instanceof LocalDate
                        || value instanceof LocalTime
                        || value instanceof OffsetDateTime
                        || value instanceof UUID
                ? value.toString()
                : value;
    }
}
