package dev.vacancy.internal.dialect;

import dev.vacancy.catalog.Access;
import dev.vacancy.catalog.ColumnType;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.time.Duration;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.temporal.Temporal;
import java.util.ArrayList;
import java.util.Base64;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/** MariaDB, version 10.6 and later, and MySQL, version 8.0.21 and later, with tables of InnoDB. */
final class MariaDbDialect implements Dialect {
    /** WSREP has not yet prepared the node for application use. */
    private static final int NODE_NOT_READY = 1047;

    private static final String WHEREABOUTS = "select concat_ws(' ', coalesce(case when @@wsrep_on then (select"
            + " variable_value from information_schema.global_status where variable_name = 'wsrep_cluster_state_uuid') end,"
            + " concat_ws(' ', @@hostname, @@port, @@datadir)), database()), database()";
    private static final String WHEREABOUTS_OF_MYSQL = "select concat_ws(' ', @@server_uuid, database()), database()";
    private static final Set<String> LARGE =
            Set.of("mediumtext", "longtext", "mediumblob", "longblob", "json", "long varchar", "long varbinary");
    private static final Set<String> SPATIAL = Set.of(
            "geometry",
            "point",
            "linestring",
            "polygon",
            "multipoint",
            "multilinestring",
            "multipolygon",
            "geometrycollection");

    private static final int LOCK_TIMEOUT = 1205;
    private static final int DEADLOCK = 1213;
    private static final long DEEPEST_RECURSION = 10_000_000;
    private static final String BY_KEY = " /*M!110000 , optimizer_scan_setup_cost = 1000000000 */";
    private static final int FINEST_FRACTION = 6;
    private static final int LONGEST_VARCHAR = 1_000;
    private static final int UUID_DIGITS = 36;
    private static final Set<String> SECONDS = Set.of("time", "datetime", "timestamp");
    private static final Map<String, Integer> JDBC_TYPES = Map.of(
            "tinyint", Types.TINYINT,
            "year", Types.SMALLINT,
            "bit", Types.BIT,
            "timestamp", Types.TIMESTAMP_WITH_TIMEZONE,
            "uuid", Types.OTHER,
            "inet4", Types.OTHER,
            "inet6", Types.OTHER);
    private static final String TYPES = "select table_schema, table_name, column_name, data_type, column_type,"
            + " character_set_name, collation_name from information_schema.columns"
            + " where table_schema not in ('information_schema', 'mysql', 'performance_schema', 'sys')";
    private static final Set<String> SYSTEM_SCHEMAS =
            Set.of("information_schema", "mysql", "performance_schema", "sys");

    private final String product;
    private final String recursionLimit;

    /**
     * Makes the dialect of one of the two.
     *
     * @param product the name by which the database introduces itself
     * @param recursionLimit its variable for how often a recursive query goes round
     */
    MariaDbDialect(String product, String recursionLimit) {
        this.product = product;
        this.recursionLimit = recursionLimit;
    }

    @Override
    public String name() {
        return product;
    }

    @Override
    public Version oldest() {
        return isMariaDb() ? new Version(10, 6) : new Version(8, 0);
    }

    @Override
    public boolean speaks(DatabaseMetaData database) throws SQLException {
        return product.equals(database.getDatabaseProductName());
    }

    @Override
    public Namespace namespace() {
        return Namespace.CATALOG;
    }

    @Override
    public boolean isSystemSchema(String schema) {
        return SYSTEM_SCHEMAS.contains(schema.toLowerCase(Locale.ROOT));
    }

    @Override
    public String quote(String name) {
        return '`' + name.replace("`", "``") + '`';
    }

    /** What is set for the next transaction stays until one begins, which reading the catalog alone doesn't do. */
    @Override
    public List<String> beginReading() {
        return List.of("set transaction isolation level repeatable read", "start transaction read only");
    }

    /**
     * At this level every read of a run is of what others have committed and keeps them from adding to it: InnoDB locks
     * the gaps between the records too. Below it, a child could slip in on a link that isn't declared.
     */
    @Override
    public List<String> beginWriting(Duration longestLockWait) {
        return List.of("set transaction isolation level serializable", "start transaction read write");
    }

    /** Below repeatable read no gap is locked, so that a child could be added that nobody looks for any more. */
    @Override
    public boolean overlooksChildren(int isolation, boolean declared) {
        return !declared && isolation < Connection.TRANSACTION_REPEATABLE_READ;
    }

    @Override
    public String seesChildrenAt() {
        return "REPEATABLE READ or SERIALIZABLE";
    }

    /**
     * MariaDB takes settings for a single statement; MySQL has them for the session only. Among few records the optimizer would rather read the
     * whole table, and a run would wait for whoever holds any of its rows; a scan that seems to cost much is made only where no index leads to
     * the records. Versions before 11.0 pass over that.
     */
    @Override
    public Fragment governed(Fragment statement, Duration longestLockWait) {
        return isMariaDb()
                ? statement.between(
                        "set statement innodb_lock_wait_timeout = " + seconds(longestLockWait) + ", " + recursionLimit
                                + " = " + DEEPEST_RECURSION + BY_KEY + " for ",
                        "")
                : statement;
    }

    /** Rounded up; zero fails at once. */
    private static long seconds(Duration wait) {
        return wait.plusMillis(999).toSeconds();
    }

    private boolean isMariaDb() {
        return product.equals("MariaDB");
    }

    @Override
    public List<Setting> settings(Duration longestLockWait) {
        return isMariaDb()
                ? List.of()
                : List.of(
                        setting("innodb_lock_wait_timeout", Math.max(1, seconds(longestLockWait))),
                        setting(recursionLimit, DEEPEST_RECURSION));
    }

    @Override
    public List<Setting> settingsInside(Duration longestLockWait) {
        return settings(longestLockWait);
    }

    private static Setting setting(String variable, long value) {
        return new Setting("select @@session." + variable, "set session " + variable + " = ", value, false);
    }

    /**
     * A count or a sample reads what others have committed, too, and not what the transaction saw when it began: the level
     * may be one that the application chose.
     */
    @Override
    public Fragment current(Fragment query) {
        return query.between("", " lock in share mode");
    }

    /** The nodes of a cluster are one database; a server by itself is known by where it runs and keeps its data. */
    @Override
    public Whereabouts whereabouts(Connection connection) throws SQLException {
        return Whereabouts.ask(connection, isMariaDb() ? WHEREABOUTS : WHEREABOUTS_OF_MYSQL);
    }

    @Override
    public boolean commitsAtDdl() {
        return true;
    }

    @Override
    public Optional<Unfit> unfit(SQLException failure) {
        return failure.getErrorCode() == NODE_NOT_READY
                ? Optional.of(new Unfit(
                        "This node of the cluster has lost the others, so it may not answer for the data.",
                        "Nothing was changed; try again when the cluster has its quorum, or use a node that has."))
                : Optional.empty();
    }

    @Override
    public boolean isLockFailure(SQLException failure) {
        return failure.getErrorCode() == LOCK_TIMEOUT || failure.getErrorCode() == DEADLOCK;
    }

    @Override
    public boolean checksRowByRow() {
        return true;
    }

    /** The optimizer would read the whole table in each round and look the found rows up; this turns that round. */
    @Override
    public String joinRecursively(String table, String alias, String condition) {
        return " straight_join " + table + " as " + alias + " on " + condition;
    }

    @Override
    public ColumnTypes columnTypes(Connection connection) throws SQLException {
        Map<List<String>, UnaryOperator<ColumnType>> known = new HashMap<>();
        try (PreparedStatement statement = connection.prepareStatement(TYPES);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                String type = row.getString(4).toLowerCase(Locale.ROOT);
                String whole = row.getString(5).toLowerCase(Locale.ROOT);
                String characterSet = row.getString(6);
                String collation = row.getString(7);
                known.put(
                        List.of(row.getString(1), row.getString(2), row.getString(3)),
                        told -> type(told, type, whole, characterSet, collation));
            }
        }
        return (schema, table, column, told) -> known.getOrDefault(List.of(schema, table, column), unknown -> unknown)
                .apply(told);
    }

    private static ColumnType type(ColumnType told, String type, String whole, String characterSet, String collation) {
        boolean unsigned = whole.contains("unsigned");
        int jdbcType = JDBC_TYPES.getOrDefault(type, told.jdbcType());
        return new ColumnType(
                type.equals("bit") || type.equals("year") || !unsigned ? told.name() : type + " unsigned",
                whole.startsWith("tinyint(1)") && !unsigned ? Types.BOOLEAN : jdbcType,
                told.size(),
                fraction(type, whole, told.scale()),
                inJson(type, whole, told.size(), characterSet, collation),
                collation == null ? "" : characterSet + " " + collation,
                FINEST_FRACTION,
                ownForm(type, whole));
    }

    /** Times that are spans, of up to a month and negative ones too; numbers where others have true and false. */
    private static String ownForm(String type, String whole) {
        if (type.equals("time")) {
            return "-?[0-9]{1,3}:[0-9]{2}:[0-9]{2}(\\.[0-9]{1,6})?";
        }
        return whole.startsWith("tinyint(1)") || whole.startsWith("bit") ? "-?[0-9]{1,20}" : "";
    }

    private static int fraction(String type, String whole, int told) {
        if (!SECONDS.contains(type)) {
            return told;
        }
        int digits = whole.indexOf('(');
        return digits < 0 ? 0 : Integer.parseInt(whole.substring(digits + 1, whole.indexOf(')')));
    }

    /** What a column of a JSON table is declared as, to hold each value of the type. */
    private static String inJson(String type, String whole, int size, String characterSet, String collation) {
        if (collation != null) {
            String length = size > 0 && size <= LONGEST_VARCHAR ? "varchar(" + size + ")" : "longtext";
            return length + " character set " + characterSet + " collate " + collation;
        }
        return switch (type) {
            case "tinyint", "smallint", "mediumint", "int", "bigint" ->
                type + (whole.contains("unsigned") ? " unsigned" : "");
            case "decimal" -> whole.replace(" unsigned", "").replace(" zerofill", "");
            case "float", "double" -> "double";
            case "date" -> "date";
            case "time" -> "time(6)";
            case "datetime" -> "datetime(6)";
            case "timestamp" -> "varchar(40)";
            case "year" -> "int";
            case "bit" -> "bigint unsigned";
            // Two digits for a byte. Without a length the optimizer would compare large objects, and miss some of a
            // large set.
            default ->
                size > 0 && size <= LONGEST_VARCHAR ? "varchar(" + 2 * Math.max(size, UUID_DIGITS) + ")" : "longtext";
        };
    }

    @Override
    public Map<List<String>, Access> access(Connection connection) throws SQLException {
        String query = "select t.table_schema, t.table_name from information_schema.tables t"
                + " join information_schema.engines e on e.engine = t.engine"
                + " where coalesce(e.transactions, 'NO') <> 'YES' and t.table_schema not in ('information_schema', 'mysql',"
                + " 'performance_schema', 'sys')";
        Map<List<String>, Access> access = new HashMap<>();
        try (PreparedStatement statement = connection.prepareStatement(query);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                access.put(List.of(row.getString(1), row.getString(2)), new Access(true, true, true, true, false));
            }
        }
        return access;
    }

    @Override
    public String textType() {
        return "char";
    }

    @Override
    public String collatedLike(String column, ColumnType own, ColumnType parent) {
        if (own.collation().equals(parent.collation())
                || parent.collation().isEmpty()
                || own.collation().isEmpty()) {
            return column;
        }
        String[] words = parent.collation().split(" ", -1);
        return "convert(" + column + " using " + words[0] + ") collate " + words[1];
    }

    /** A point in time is told apart from the same hour before the clocks went back only by its number of seconds. */
    @Override
    public String exact(ColumnType type, String column) {
        if (isInstant(type)) {
            return "unix_timestamp(" + column + ")";
        }
        return switch (type.jdbcType()) {
            case Types.BIT, Types.BOOLEAN -> "(" + column + " + 0)";
            case Types.FLOAT, Types.REAL -> "cast(" + column + " as double)";
            case Types.DATE, Types.TIME, Types.TIMESTAMP, Types.OTHER -> "cast(" + column + " as char)";
            default -> isYear(type) ? "cast(" + column + " as unsigned)" : column;
        };
    }

    @Override
    public Object readExact(ResultSet row, int index, ColumnType type) throws SQLException {
        if (isInstant(type)) {
            BigDecimal seconds = row.getBigDecimal(index);
            return seconds == null ? null : instant(seconds);
        }
        if (isYear(type)) {
            return row.getObject(index, Long.class);
        }
        return switch (type.jdbcType()) {
            case Types.BOOLEAN -> truth(row, index);
            case Types.BIT -> row.getObject(index, BigInteger.class);
            case Types.FLOAT, Types.REAL -> single(row, index);
            case Types.DATE, Types.TIME, Types.TIMESTAMP, Types.OTHER -> text(row, index, type);
            default -> Values.detached(row, index);
        };
    }

    private static Object text(ResultSet row, int index, ColumnType type) throws SQLException {
        String text = row.getString(index);
        return text == null ? null : withoutTrailingZeros(type, text);
    }

    /** The database writes all digits of the fraction; Java's types have no trailing zeros, and neither needs them. */
    private static Object withoutTrailingZeros(ColumnType type, String text) {
        String shorter = text.indexOf('.') < 0 ? text : text.replaceAll("\\.?0+$", "");
        return type.jdbcType() == Types.OTHER ? uuid(type, text) : type.read(shorter);
    }

    private static Object uuid(ColumnType type, String text) {
        return type.isUuid() ? UUID.fromString(text) : text;
    }

    private static Object single(ResultSet row, int index) throws SQLException {
        Double number = row.getObject(index, Double.class);
        return number == null ? null : (Object) Float.valueOf(number.floatValue());
    }

    private static Object truth(ResultSet row, int index) throws SQLException {
        long number = row.getLong(index);
        if (row.wasNull()) {
            return null;
        }
        return number == 0 || number == 1 ? (Object) (number == 1) : (Object) number;
    }

    private static OffsetDateTime instant(BigDecimal seconds) {
        long whole = seconds.longValue();
        long nanos =
                seconds.subtract(BigDecimal.valueOf(whole)).movePointRight(9).longValueExact();
        return Instant.ofEpochSecond(whole, nanos).atOffset(ZoneOffset.UTC);
    }

    /** Whether the column holds points in time and not what a clock shows. */
    private static boolean isInstant(ColumnType type) {
        return type.name().equalsIgnoreCase("timestamp");
    }

    private static boolean isYear(ColumnType type) {
        return type.name().equalsIgnoreCase("year");
    }

    @Override
    public String comparand(ColumnType type, String column) {
        if (isInstant(type)) {
            return "unix_timestamp(" + column + ")";
        }
        return type.jdbcType() == Types.BIT ? "(" + column + " + 0)" : column;
    }

    @Override
    public boolean isTextFolded(ColumnType type) {
        return !type.collation().isEmpty() && !type.collation().endsWith("_bin");
    }

    @Override
    public Fragment value(ColumnType type, Object value) {
        if (isInstant(type)) {
            return value instanceof OffsetDateTime time
                    ? Fragment.of("?", Binding.of(seconds(time)))
                    : Fragment.of("unix_timestamp(?)", Binding.of(ColumnType.spelling(value)));
        }
        if (value instanceof Float number) {
            return Fragment.of("?", Binding.of(number.doubleValue()));
        }
        return Fragment.of("?", Binding.of(value instanceof Temporal ? ColumnType.spelling(value) : value));
    }

    @Override
    public Fragment stored(ColumnType type, Object value) {
        if (!isInstant(type)) {
            return value(type, value);
        }
        return value instanceof OffsetDateTime time
                ? Fragment.of("from_unixtime(?)", Binding.of(seconds(time)))
                : Fragment.of("?", Binding.of(ColumnType.spelling(value)));
    }

    private static BigDecimal seconds(OffsetDateTime time) {
        return BigDecimal.valueOf(time.toEpochSecond()).add(BigDecimal.valueOf(time.getNano(), 9));
    }

    @Override
    public Fragment among(List<String> columns, KeySet keys) {
        List<String> compared = new ArrayList<>();
        List<String> values = new ArrayList<>();
        List<String> definitions = new ArrayList<>();
        for (int i = 0; i < columns.size(); i++) {
            ColumnType type = keys.types().get(i);
            String path = columns.size() == 1 ? "'$'" : "'$[" + i + "]'";
            compared.add(comparand(type, columns.get(i)));
            values.add(fromJson("k.c" + i, type));
            definitions.add("c" + i + " " + type.castable() + " path " + path);
        }
        String sql = (columns.size() == 1 ? compared.get(0) : "(" + String.join(", ", compared) + ")") + " in (select "
                + String.join(", ", values) + " from json_table(?, '$[*]' columns ("
                + String.join(", ", definitions)
                + ")) as k)";
        return Fragment.of(sql, Binding.of(JsonKeys.of(keys, MariaDbDialect::sent)));
    }

    private static String fromJson(String value, ColumnType type) {
        if (isInstant(type)) {
            return "case when " + value + " like '%-%' then unix_timestamp(" + value + ") else cast(" + value
                    + " as decimal(30, 6)) end";
        }
        if (type.isBinary()) {
            return "unhex(" + value + ")";
        }
        String name = type.name().toLowerCase(Locale.ROOT);
        return name.equals("uuid") || name.startsWith("inet") ? "cast(" + value + " as " + name + ")" : value;
    }

    private static Object sent(Object value) {
        if (value instanceof OffsetDateTime time) {
            return seconds(time).toPlainString();
        }
        if (value instanceof BigDecimal number) {
            return number.toPlainString();
        }
        return value instanceof Temporal ? ColumnType.spelling(value) : value;
    }

    /**
     * Of several alternatives the optimizer would read the whole table; each by itself finds its records by an index, and
     * so does a query, unlike a deletion, on older versions.
     */
    @Override
    public Fragment from(String table, String alias, List<String> identity, List<Fragment> alternatives) {
        return alternatives.size() == 1 || identity.isEmpty()
                ? Dialect.super.from(table, alias, identity, alternatives)
                : found(table, alias, identity, alternatives);
    }

    private static Fragment found(String table, String alias, List<String> identity, List<Fragment> alternatives) {
        String named = IntStream.range(0, identity.size())
                .mapToObj(i -> identity.get(i) + " as c" + i)
                .collect(Collectors.joining(", "));
        String matches = IntStream.range(0, identity.size())
                .mapToObj(i -> identity.get(i) + " = k.c" + i)
                .collect(Collectors.joining(" and "));
        String rows = " from " + table + " as " + alias + " where ";
        // DISTINCT or UNION: without either, the rows to change would be read while they are changed.
        Fragment found = alternatives
                .get(0)
                .between("select " + (alternatives.size() == 1 ? "distinct " : "") + named + rows, "");
        for (Fragment other : alternatives.subList(1, alternatives.size())) {
            found = found.then(other.between(" union select " + named + rows, ""));
        }
        return found.between("(", ") as k straight_join " + table + " as " + alias + " on " + matches);
    }

    @Override
    public Fragment delete(
            String table, String alias, List<String> identity, List<Fragment> alternatives, long records) {
        Fragment rows = identity.isEmpty()
                ? Dialect.super.from(table, alias, identity, alternatives)
                : found(table, alias, identity, alternatives);
        return rows.between("delete " + alias + " from ", "");
    }

    @Override
    public Fragment update(
            String table,
            String alias,
            List<String> identity,
            List<String> columns,
            List<Fragment> values,
            List<Fragment> alternatives,
            long records) {
        List<String> qualified =
                columns.stream().map(column -> alias + "." + column).toList();
        return identity.isEmpty()
                ? Dialect.super.update(table, alias, identity, qualified, values, alternatives, records)
                : found(table, alias, identity, alternatives)
                        .between("update ", " set ")
                        .then(Statements.assignments(qualified, values));
    }

    @Override
    public boolean makesImages() {
        return true;
    }

    /** Whatever is larger than a packet becomes null, and a value of 64 kB never is. */
    @Override
    public boolean mayBeTooLarge(ColumnType type) {
        return LARGE.contains(type.name().toLowerCase(Locale.ROOT)) || isSpatial(type);
    }

    private static boolean isSpatial(ColumnType type) {
        return SPATIAL.contains(type.name().toLowerCase(Locale.ROOT));
    }

    /** Whatever has bytes that are no text, and what means another value in another session. */
    @Override
    public String imageText(ColumnType type, String column) {
        if (isBytes(type)) {
            return "to_base64(" + column + ")";
        }
        return isInstant(type) || type.jdbcType() == Types.BIT || type.jdbcType() == Types.FLOAT
                ? "cast(" + exact(type, column) + " as char)"
                : type.jdbcType() == Types.REAL
                        ? "cast(cast(" + column + " as double) as char)"
                        : "cast(" + column + " as char)";
    }

    @Override
    public String character(char character) {
        return "char(" + (int) character + " using utf8mb4)";
    }

    @Override
    public String keyText(ColumnType type, String column) {
        return isBytes(type) ? "lower(hex(" + column + "))" : imageText(type, column);
    }

    @Override
    public String keyOf(ColumnType type, Object value) {
        return isBytes(type) && value instanceof String digits
                ? Bytes.hex(ByteBuffer.wrap(Base64.getMimeDecoder().decode(digits)))
                : String.valueOf(value);
    }

    private static boolean isBytes(ColumnType type) {
        return type.isBinary() || isSpatial(type);
    }

    @Override
    public Fragment imageOf(List<String> names, List<String> texts) {
        List<String> members = texts.stream().map(text -> "?, " + text).toList();
        return new Fragment(
                "json_object(" + String.join(", ", members) + ")",
                names.stream().map(Binding::of).toList());
    }

    @Override
    public String digestOf(String bytes) {
        return "unhex(sha2(" + bytes + ", 256))";
    }

    @Override
    public String bytesOf(String text) {
        return "cast(convert(" + text + " using utf8mb4) as binary)";
    }

    @Override
    public String renaming(String prefix, String from, String to) {
        return "alter table " + prefix + from + " rename to " + prefix + to;
    }

    /** Of a long key an index holds the beginning, in as many bytes as it has room for. */
    @Override
    public String keyIndex(String index, String table, String first, String second) {
        return "create index " + index + " on " + table + " (" + first + "(100), " + second + "(300))";
    }

    /** Otherwise a value that is longer than a packet becomes null, with a warning that nobody reads. */
    @Override
    public String beforeRecording() {
        return isMariaDb() ? "set statement sql_mode = 'STRICT_ALL_TABLES' for " : "";
    }

    @Override
    public String joined(List<String> texts) {
        return "concat(" + String.join(", ", texts) + ")";
    }

    @Override
    public Fragment fromImage(ColumnType type, Object value) {
        Binding bound = Binding.of(value);
        if (isBytes(type)) {
            return Fragment.of("from_base64(?)", bound);
        }
        if (isInstant(type)) {
            return Fragment.of("from_unixtime(cast(? as decimal(30, 6)))", bound);
        }
        return type.jdbcType() == Types.BIT ? Fragment.of("cast(? as unsigned)", bound) : Fragment.of("?", bound);
    }

    /** Zero in a counting column stands for the next number otherwise. */
    @Override
    public String beforeInsertion() {
        return isMariaDb() ? "set statement sql_mode = concat(@@sql_mode, ',NO_AUTO_VALUE_ON_ZERO') for " : "";
    }

    /** Whether a backslash is itself depends on the session, so none is written. */
    @Override
    public String textLiteral(String text) {
        return text.contains("\\")
                ? "_utf8mb4 x'" + HexFormat.of().formatHex(text.getBytes(StandardCharsets.UTF_8)) + "'"
                : Dialect.super.textLiteral(text);
    }

    @Override
    public String longText() {
        return "longtext";
    }

    @Override
    public String tableOptions() {
        return " character set utf8mb4 collate utf8mb4_bin";
    }

    @Override
    public String instantType() {
        return "datetime";
    }

    @Override
    public boolean locksWhatItReads() {
        return true;
    }

    @Override
    public List<String> judges(Connection connection, String schema, String table) throws SQLException {
        return Judging.read(isMariaDb() ? Judging.MARIADB : Judging.MYSQL, connection, schema, table);
    }

    @Override
    public List<String> setAtEachChange(Connection connection, String schema, String table) throws SQLException {
        return Judging.read(
                "select column_name from information_schema.columns where table_schema = :schema and table_name = :table"
                        + " and extra like '%on update%'",
                connection, schema, table);
    }
}
