package dev.vacancy.internal.dialect;

import dev.vacancy.internal.catalog.ColumnType;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.sql.Types;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/**
 * H2, version 2.3 and later. A connection's own limit for locks, two seconds unless its URL says otherwise, is a short
 * wait already.
 */
final class H2Dialect implements Dialect {
    private static final Set<String> UNFIT_MODES = Set.of("Oracle", "MSSQLServer", "Derby", "STRICT");

    private static final String IN_MEMORY = "jdbc:h2:mem:";
    private static final int LOCK_TIMEOUT = 50200;
    private static final int DEADLOCK = 40001;
    private static final int CONCURRENT_UPDATE = 90131;
    private static final int LONGEST_TEXT = 1_000_000;
    private static final int DEEPEST_RECURSION = 10_000;

    /** Beyond this many keys the time for an array, which grows with its square, is more than that for a table. */
    private static final int MOST_IN_ARRAY = 2_000;

    private static final long MOST_MERGED = 100_000;

    private static final String INDEXES = "select table_schema, table_name,"
            + " array_agg(column_name order by ordinal_position), every(is_unique)"
            + " from information_schema.index_columns group by table_schema, table_name, index_schema, index_name"
            + " order by every(is_unique) desc, index_name";

    private final Codecs<H2Codec> codecs = new Codecs<>(H2Codec::of);

    @Override
    public H2Codec codec(ColumnType type) {
        return codecs.of(type);
    }

    @Override
    public ColumnTypes columnTypes(Connection connection) {
        return (schema, table, column, reported) -> reported.castAs(H2Codec.withItsLength(reported));
    }

    /** The driver's metadata has the visible ones only. */
    @Override
    public List<InvisibleColumn> invisibleColumns(Connection connection) throws SQLException {
        return new CatalogQuery(connection)
                        .rows(
                                "select c.table_schema, c.table_name, c.column_name, c.ordinal_position, c.column_default, c.is_generated"
                                        + " from information_schema.columns c join information_schema.tables t on t.table_schema = c.table_schema and t.table_name = c.table_name"
                                        + " where not c.is_visible and t.table_type = 'BASE TABLE' order by 1, 2, 4")
                        .stream()
                        .map(row -> new InvisibleColumn(
                                row.get(0),
                                row.get(1),
                                row.get(2),
                                Integer.parseInt(row.get(3)),
                                Optional.ofNullable(row.get(4)),
                                row.get(5).equals("ALWAYS")))
                        .toList();
    }

    @Override
    public List<String> setAtEachChange(Connection connection, String schema, String table) throws SQLException {
        return new CatalogQuery(connection)
                .texts(
                        "select column_name from information_schema.columns where table_schema = ? and table_name = ? and column_on_update is not null",
                        schema,
                        table);
    }

    @Override
    public Reshaping reshaping() {
        return new H2Reshaping(this);
    }

    @Override
    public String name() {
        return "H2";
    }

    @Override
    public Version oldest() {
        return new Version(2, 3);
    }

    @Override
    public boolean speaks(DatabaseMetaData database) throws SQLException {
        return "H2".equals(database.getDatabaseProductName());
    }

    @Override
    public boolean isSystemSchema(String schema) {
        return "INFORMATION_SCHEMA".equalsIgnoreCase(schema);
    }

    @Override
    public boolean checksRowByRow() {
        return true;
    }

    /** The level belongs to the session here. */
    @Override
    public OptionalInt isolation(boolean writing) {
        return OptionalInt.of(writing ? Connection.TRANSACTION_READ_COMMITTED : Connection.TRANSACTION_REPEATABLE_READ);
    }

    /** Above read committed the database's own check of foreign keys looks at the snapshot too. */
    @Override
    public boolean overlooksChildren(int isolation, boolean declared) {
        return isolation > Connection.TRANSACTION_READ_COMMITTED;
    }

    @Override
    public List<Setting> settings(Duration longestLockWait) {
        return List.of(new Setting("select lock_timeout()", "set lock_timeout ", millis(longestLockWait), false));
    }

    @Override
    public List<Setting> settingsInside(Duration longestLockWait) {
        return settings(longestLockWait);
    }

    @Override
    public boolean locksBeyondLimit() {
        return true;
    }

    /** A recursive query keeps going round a circle of records; this bounds it. */
    @Override
    public OptionalInt deepestRecursion() {
        return OptionalInt.of(DEEPEST_RECURSION);
    }

    /** A database in memory is of one process; another one that is reached over the network is known by its address. */
    @Override
    public DatabaseIdentity whereabouts(Connection connection) throws SQLException {
        DatabaseIdentity reported =
                DatabaseIdentity.ask(connection, "select coalesce(database_path(), ''), current_schema");
        if (!reported.database().isEmpty()) {
            return reported;
        }
        String url = connection.getMetaData().getURL();
        return new DatabaseIdentity(
                url.startsWith(IN_MEMORY) ? DatabaseIdentity.PROCESS + " " + url : url, reported.schema());
    }

    @Override
    public boolean commitsAtDdl() {
        return true;
    }

    @Override
    public boolean isLockFailure(SQLException failure) {
        int code = failure.getErrorCode();
        return code == LOCK_TIMEOUT || code == DEADLOCK || code == CONCURRENT_UPDATE;
    }

    /** Metadata would tell how large each index is too, and read the pages of all of them for that. */
    @Override
    public Index.OfTable indexes(Connection connection) throws SQLException {
        Map<List<String>, List<Index>> indexes = new HashMap<>();
        try (PreparedStatement statement = connection.prepareStatement(INDEXES);
                ResultSet rows = statement.executeQuery()) {
            while (rows.next()) {
                List<String> columns = Arrays.stream((Object[]) rows.getArray(3).getArray())
                        .map(String::valueOf)
                        .toList();
                indexes.computeIfAbsent(List.of(rows.getString(1), rows.getString(2)), missing -> new ArrayList<>())
                        .add(new Index(columns, rows.getBoolean(4)));
            }
        }
        return (schema, table) -> indexes.getOrDefault(List.of(schema, table), List.of());
    }

    /** Only the first column's part of a composite comparison is looked up in an index. */
    @Override
    public Fragment among(List<String> columns, String query, List<String> read, Fragment from) {
        Fragment whole = Dialect.super.among(columns, query, read, from);
        return columns.size() == 1
                ? whole
                : Fragment.join(
                        " and ",
                        List.of(Dialect.super.among(columns.subList(0, 1), query, read.subList(0, 1), from), whole));
    }

    /**
     * A list of more values than fit into memory fails in a database that is kept in a file. The other table is looked up by what
     * is compared: any index on what else is asked of it would be read as a whole for each row, so that is hidden from the
     * optimizer.
     */
    @Override
    public Fragment amongMany(List<String> columns, String table, List<String> read, Fragment where) {
        Fragment matches = Fragment.of(matches(read, columns));
        return where.between(
                        "exists (select 1 from " + table + " where " + matches.sql() + " and case when ",
                        " then 1 else 0 end = 1)")
                .joining(where.joining()
                        .map(parents -> throughParents(columns, table, read, parents))
                        .orElseGet(() -> new Fragment.Joining(
                                Fragment.of(table), Fragment.join(" and ", List.of(matches, where)))));
    }

    private static Fragment.Joining throughParents(
            List<String> columns, String table, List<String> read, Fragment.Joining parents) {
        List<String> named = keyColumns("", columns.size());
        String names = IntStream.range(0, read.size())
                .mapToObj(i -> read.get(i) + " as " + named.get(i))
                .collect(Collectors.joining(", "));
        Fragment keys = parents.table()
                .then(parents.on().between(" join " + table + " on ", ""))
                .between("(select " + names + " from ", ") as k");
        return new Fragment.Joining(keys, Fragment.of(matches(keyColumns("k.", columns.size()), columns)));
    }

    /**
     * As a condition, a set of keys is looked through for each row that it may be about; as a table, it is read once and each
     * of its keys looked up.
     */
    @Override
    public Fragment among(List<String> columns, KeySet keys) {
        if (keys.tuples().size() > MOST_IN_ARRAY) {
            return KeyTable.of(keys).among(columns);
        }
        Fragment first = new Fragment(
                columns.get(0) + " = any(" + array(keys, 0) + ")", List.of(binding(distinct(keys.column(0)))));
        Fragment condition =
                columns.size() == 1 ? first : Fragment.join(" and ", List.of(first, exists(columns, keys)));
        List<String> names = keyColumns("", columns.size());
        Fragment table = unnested(keys).between("(select distinct " + String.join(", ", names) + " from ", ") as k");
        return condition.joining(new Fragment.Joining(
                table, Fragment.of(matches(keyColumns("k.", columns.size()), columns))));
    }

    /**
     * Looks each row up in the set. The condition on the first column beside it finds those rows by an index: H2 would
     * read the whole table for this one alone, and for {@code in (select … from unnest(…))} runs the inner query anew
     * for each row.
     */
    private static Fragment exists(List<String> columns, KeySet keys) {
        return unnested(keys)
                .between(
                        "exists (select 1 from ", " where " + matches(keyColumns("k.", columns.size()), columns) + ")");
    }

    /** Beside a condition on another column of an index, H2 looks up that one only, unless the texts are a table. */
    @Override
    public Fragment anyOf(String column, List<String> texts) {
        return among(
                List.of(column),
                new KeySet(
                        List.of(ColumnType.of("CHARACTER VARYING", Types.VARCHAR, LONGEST_TEXT, 0)),
                        texts.stream().map(List::<Object>of).toList()));
    }

    private static Fragment unnested(KeySet keys) {
        List<Binding> bindings = new ArrayList<>();
        List<String> arrays = new ArrayList<>();
        for (int i = 0; i < keys.types().size(); i++) {
            arrays.add(array(keys, i));
            bindings.add(binding(keys.column(i)));
        }
        String names = String.join(", ", keyColumns("", keys.types().size()));
        return new Fragment("unnest(" + String.join(", ", arrays) + ") as k(" + names + ")", bindings);
    }

    private static List<String> keyColumns(String qualifier, int columns) {
        return IntStream.range(0, columns).mapToObj(i -> qualifier + "c" + i).toList();
    }

    private static String matches(List<String> read, List<String> columns) {
        return IntStream.range(0, columns.size())
                .mapToObj(i -> read.get(i) + " = " + columns.get(i))
                .collect(Collectors.joining(" and "));
    }

    private static Optional<Fragment.Joining> joining(List<Fragment> alternatives) {
        return alternatives.size() == 1 ? alternatives.get(0).joining() : Optional.empty();
    }

    @Override
    public Fragment from(String table, String alias, List<String> identity, List<Fragment> alternatives) {
        return joining(alternatives)
                .map(joining ->
                        joining.table().then(joining.on().between(" join " + table + " as " + alias + " on ", "")))
                .orElseGet(() -> Dialect.super.from(table, alias, identity, alternatives));
    }

    @Override
    public Fragment delete(
            String table, String alias, List<String> identity, List<Fragment> alternatives, long records) {
        return merging(alternatives, records)
                .map(joining -> merge(table, alias, joining).between("", "delete"))
                .orElseGet(() -> Dialect.super.delete(table, alias, identity, alternatives, records));
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
        return merging(alternatives, records)
                .map(joining -> merge(table, alias, joining)
                        .then(Statements.assignments(columns, values).between("update set ", "")))
                .orElseGet(() -> Dialect.super.update(table, alias, identity, columns, values, alternatives, records));
    }

    @Override
    public boolean deletesUncounted() {
        return false;
    }

    /** A MERGE remembers in memory which rows it has met. */
    private static Optional<Fragment.Joining> merging(List<Fragment> alternatives, long records) {
        return records > MOST_MERGED ? Optional.empty() : joining(alternatives);
    }

    private static Fragment merge(String table, String alias, Fragment.Joining joining) {
        return joining.table()
                .between("merge into " + table + " as " + alias + " using ", " on ")
                .then(joining.on())
                .between("", " when matched then ");
    }

    private static String array(KeySet keys, int column) {
        return "cast(? as " + keys.types().get(column).castable() + " array)";
    }

    private static Object[] distinct(Object[] values) {
        return Arrays.stream(values).distinct().toArray();
    }

    /** H2 takes each element by its Java type, whatever the array is called. */
    private static Binding binding(Object[] values) {
        Object[] sent = Arrays.stream(values).map(H2Codec::sent).toArray();
        return (statement, index) ->
                statement.setArray(index, statement.getConnection().createArrayOf("", sent));
    }

    /** Zero would mean to wait without end. */
    private static long millis(Duration wait) {
        return Math.max(1, wait.toMillis());
    }

    /** Each record that is found is compared with all of the list once more. */
    @Override
    public int picturedAtOnce() {
        return 200;
    }

    /** In these modes an empty text is none, or a statement may not say how many rows it wants. */
    @Override
    public Optional<UnfitConnection> unfit(Connection connection) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(
                        "select setting_value from information_schema.settings where setting_name = 'MODE'")) {
            return row.next() && UNFIT_MODES.contains(row.getString(1))
                    ? Optional.of(
                            new UnfitConnection(
                                    "This H2 is in the mode " + row.getString(1)
                                            + ", in which it takes other SQL, or other texts for the same, than by itself.",
                                    "Leave MODE out of its URL, or use one of REGULAR, PostgreSQL, MySQL, MariaDB, DB2, HSQLDB, LEGACY."))
                    : Optional.empty();
        }
    }

    @Override
    public String overridingIdentity() {
        return " overriding system value ";
    }

    @Override
    public String longText() {
        return "clob";
    }

    /** Without quotes it is found in whatever case the database was told to store names. */
    @Override
    public String schemaName(String name) {
        return Describing.isPlain(name) ? name : quote(name);
    }

    @Override
    public String keyTextType() {
        return "varchar";
    }

    @Override
    public List<String> judges(Connection connection, String schema, String table) throws SQLException {
        return Judging.read(Judging.H2, connection, schema, table);
    }
}
