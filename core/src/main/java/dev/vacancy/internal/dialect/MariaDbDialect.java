package dev.vacancy.internal.dialect;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.catalog.Access;
import dev.vacancy.internal.catalog.ColumnType;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/** MariaDB, version 10.6 and later, and MySQL, version 8.0.21 and later, with tables of InnoDB. */
final class MariaDbDialect implements Dialect {
    /** WSREP has not yet prepared the node for application use. */
    private static final int NODE_NOT_READY = 1047;

    private static final String WHEREABOUTS =
            "select concat_ws(' ', @@hostname, @@port, @@datadir, database()), database()";
    private static final String WHEREABOUTS_OF_CLUSTER = "select concat_ws(' ', (select variable_value from"
            + " information_schema.global_status where variable_name = 'wsrep_cluster_state_uuid'), database()), database()";
    private static final String WHEREABOUTS_OF_MYSQL = "select concat_ws(' ', @@server_uuid, database()), database()";
    /** A node that has lost the others has a number beyond all bounds. */
    private static final String SERVER_NUMBER = "select max(if(variable_name = 'wsrep_local_index', number, 0)),"
            + " max(if(variable_name = 'wsrep_cluster_size', number, 0)) from (select variable_name,"
            + " least(cast(variable_value as unsigned), 65535) as number from information_schema.global_status"
            + " where variable_name in ('wsrep_local_index', 'wsrep_cluster_size')) as numbers";

    private static final String SETTING = "set statement ";
    private static final int LOCK_TIMEOUT = 1205;
    private static final int DEADLOCK = 1213;
    /** Storage engines whose tables lead to other servers. */
    private static final String ELSEWHERE = "('SPIDER', 'FEDERATED', 'CONNECT')";

    private static final long DEEPEST_RECURSION = 10_000_000;
    private static final String BY_KEY = " /*M!110000 , optimizer_scan_setup_cost = 1000000000 */";
    private static final Set<String> SYSTEM_SCHEMAS =
            Set.of("information_schema", "mysql", "performance_schema", "sys");

    private final Codecs<MariaDbCodec> codecs = new Codecs<>(MariaDbCodec::of);
    private final String product;
    private final String recursionLimit;
    private final boolean clustered;

    /**
     * Makes the dialect of one of the two.
     *
     * @param product the name by which the database introduces itself
     * @param recursionLimit its variable for how often a recursive query goes round
     */
    MariaDbDialect(String product, String recursionLimit) {
        this(product, recursionLimit, false);
    }

    private MariaDbDialect(String product, String recursionLimit, boolean clustered) {
        this.product = product;
        this.recursionLimit = recursionLimit;
        this.clustered = clustered;
    }

    /** Nodes that replicate as they commit have some more to be told; a server by itself may not even know the words. */
    @Override
    public Dialect refined(Connection connection) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("show variables like 'wsrep_on'")) {
            return row.next() && row.getString(2).equals("ON")
                    ? new MariaDbDialect(product, recursionLimit, true)
                    : this;
        }
    }

    @Override
    public boolean locksAreLocal() {
        return clustered;
    }

    @Override
    public Optional<ServerNumber> serverNumber(Connection connection) throws SQLException {
        if (!clustered) {
            return Optional.empty();
        }
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(SERVER_NUMBER)) {
            row.next();
            return Optional.of(new ServerNumber(row.getInt(1), Math.max(1, row.getInt(2))));
        }
    }

    @Override
    public MariaDbCodec codec(ColumnType type) {
        return codecs.of(type);
    }

    @Override
    public ColumnTypes columnTypes(Connection connection) throws SQLException {
        return MariaDbTypes.read(connection);
    }

    @Override
    public Reshaping reshaping() {
        return new MariaDbReshaping(this, isMariaDb());
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
        return List.of("set transaction isolation level repeatable read", begin("read only"));
    }

    /**
     * At this level every read of a run is of what others have committed and keeps them from adding to it: InnoDB locks
     * the gaps between the records too. Below it, a child could slip in on a link that isn't declared.
     */
    @Override
    public List<String> beginWriting(Duration longestLockWait) {
        return List.of("set transaction isolation level serializable", begin("read write"));
    }

    /** A node of a cluster first catches up with what the others have committed. */
    private String begin(String access) {
        return (clustered ? SETTING + "wsrep_sync_wait = 1 for " : "") + "start transaction " + access;
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
        if (!isMariaDb()) {
            return statement;
        }
        String settings = SETTING + "innodb_lock_wait_timeout = " + seconds(longestLockWait) + ", " + recursionLimit
                + " = " + DEEPEST_RECURSION + BY_KEY;
        return statement.sql().startsWith(SETTING)
                ? new Fragment(
                        settings + ", " + statement.sql().substring(SETTING.length()),
                        statement.bindings(),
                        statement.preparations(),
                        statement.joining())
                : statement.between(settings + " for ", "");
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
    public DatabaseIdentity whereabouts(Connection connection) throws SQLException {
        return DatabaseIdentity.ask(connection, whereabouts());
    }

    private String whereabouts() {
        if (!isMariaDb()) {
            return WHEREABOUTS_OF_MYSQL;
        }
        return clustered ? WHEREABOUTS_OF_CLUSTER : WHEREABOUTS;
    }

    @Override
    public boolean commitsAtDdl() {
        return true;
    }

    @Override
    public Optional<UnfitConnection> unfit(SQLException failure) {
        return failure.getErrorCode() == NODE_NOT_READY
                ? Optional.of(new UnfitConnection(
                        "This node of the cluster has lost the others, so it may not answer for the data.",
                        "Nothing was changed; try again when the cluster has its quorum, or use a node that has."))
                : Optional.empty();
    }

    @Override
    public Optional<UnfitConnection> unfitToBegin(SQLException failure) {
        return clustered && failure.getErrorCode() == LOCK_TIMEOUT
                ? Optional.of(new UnfitConnection(
                        "This node of the cluster is behind the others and hasn't caught up in time.",
                        "Nothing was changed; try again, or use a node that isn't behind."))
                : unfit(failure);
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
    public Map<List<String>, Access> access(Connection connection) throws SQLException {
        String query = "select t.table_schema, t.table_name, coalesce(e.transactions, 'NO') = 'YES', t.engine not in "
                + ELSEWHERE
                + " from information_schema.tables t join information_schema.engines e on e.engine = t.engine"
                + " where (coalesce(e.transactions, 'NO') <> 'YES' or t.engine in " + ELSEWHERE
                + ") and t.table_schema not in"
                + " ('information_schema', 'mysql', 'performance_schema', 'sys')";
        Map<List<String>, Access> access = new HashMap<>();
        try (PreparedStatement statement = connection.prepareStatement(query);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                access.put(
                        List.of(row.getString(1), row.getString(2)),
                        new Access(true, true, true, true, row.getBoolean(3), row.getBoolean(4)));
            }
        }
        return access;
    }

    @Override
    public String textType() {
        return "char";
    }

    @Override
    public Fragment among(List<String> columns, KeySet keys) {
        List<String> compared = new ArrayList<>();
        List<String> values = new ArrayList<>();
        List<String> definitions = new ArrayList<>();
        for (int i = 0; i < columns.size(); i++) {
            MariaDbCodec codec = codec(keys.types().get(i));
            String path = columns.size() == 1 ? "'$'" : "'$[" + i + "]'";
            compared.add(codec.comparand(columns.get(i)));
            values.add(codec.fromJson("k.c" + i));
            definitions.add("c" + i + " " + codec.type().castable() + " path " + path);
        }
        String sql = (columns.size() == 1 ? compared.get(0) : "(" + String.join(", ", compared) + ")") + " in (select "
                + String.join(", ", values) + " from json_table(?, '$[*]' columns ("
                + String.join(", ", definitions)
                + ")) as k)";
        return Fragment.of(sql, Binding.of(JsonKeys.of(keys, MariaDbCodec::inJson)));
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

    @Override
    public String character(char character) {
        return "char(" + (int) character + " using utf8mb4)";
    }

    @Override
    public Fragment imageOf(List<Column> columns, String alias) {
        return new Fragment(
                columns.stream()
                        .map(column -> "?, " + codec(column).imageText(name(alias, column)))
                        .collect(Collectors.joining(", ", "json_object(", ")")),
                columns.stream().map(column -> Binding.of(column.name())).toList());
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
        return isMariaDb() ? SETTING + "sql_mode = 'STRICT_ALL_TABLES' for " : "";
    }

    @Override
    public String joined(List<String> texts) {
        return "concat(" + String.join(", ", texts) + ")";
    }

    /** Zero in a counting column stands for the next number otherwise. */
    @Override
    public String beforeInsertion() {
        return isMariaDb() ? SETTING + "sql_mode = concat(@@sql_mode, ',NO_AUTO_VALUE_ON_ZERO') for " : "";
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

    @Override
    public Optional<String> retyping(String table, String column, String type, String required) {
        return Optional.of("alter table " + table + " modify column " + column + " " + type + required);
    }
}
