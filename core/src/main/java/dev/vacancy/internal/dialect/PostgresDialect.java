package dev.vacancy.internal.dialect;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.catalog.Access;
import dev.vacancy.internal.catalog.ColumnType;
import java.sql.Connection;
import java.sql.DatabaseMetaData;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** PostgreSQL, version 13 and later. */
final class PostgresDialect implements Dialect {
    /** The bits of pg_trigger.tgtype for a trigger before a deletion. */
    private static final int BEFORE_DELETE = 2 | 8;

    private static final int INDEXED = 500;

    /** A prepared statement is missing, or there already (ISO/IEC 9075-2, class 26; PostgreSQL, appendix A). */
    private static final Set<String> STATEMENTS_MIXED_UP = Set.of("26000", "42P05", "08P01");

    private static final String WHEREABOUTS =
            "select (select system_identifier from pg_catalog.pg_control_system()) || ' ' || d.oid || ' ' || d.datname,"
                    + " current_schema() from pg_catalog.pg_database d where d.datname = current_database()";
    private static final String NOT_SUPPORTED = "0A000";
    private static final Set<String> LOCK_STATES = Set.of("55P03", "40P01", "40001");

    private final Codecs<PostgresCodec> codecs = new Codecs<>(PostgresCodec::of);
    private final PostgresImages images = new PostgresImages(this);
    private final boolean awaited;

    PostgresDialect() {
        this(false);
    }

    /** Makes the dialect of a server whose commits wait for standbys, or don't. */
    private PostgresDialect(boolean awaited) {
        this.awaited = awaited;
    }

    @Override
    public PostgresCodec codec(ColumnType type) {
        return codecs.of(type);
    }

    @Override
    public ColumnTypes columnTypes(Connection connection) throws SQLException {
        return PostgresTypes.read(connection);
    }

    @Override
    public Reshaping reshaping() {
        return new PostgresReshaping(this);
    }

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

    /** Where a commit waits for standbys, it would wait for one that is gone for ever. */
    @Override
    public Dialect refined(Connection connection) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("show synchronous_standby_names")) {
            return row.next() && !row.getString(1).isBlank() ? new PostgresDialect(true) : this;
        }
    }

    /** What is checked only at the commit is checked before, so that it is the waiting alone that has a limit. */
    @Override
    public List<String> commitAwaitingOthers() {
        return awaited ? List.of("set constraints all immediate", "commit") : List.of();
    }

    @Override
    public Optional<Duration> replayDelay(Connection connection) throws SQLException {
        try (Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery(
                        "select extract(epoch from clock_timestamp() - pg_last_xact_replay_timestamp())")) {
            row.next();
            double seconds = row.getDouble(1);
            return row.wasNull() ? Optional.empty() : Optional.of(Duration.ofMillis(Math.round(seconds * 1000)));
        }
    }

    @Override
    public Optional<Fragment> countingLocked(Fragment query) {
        return Optional.of(query.between("select count(*) from (", ") as locked"));
    }

    @Override
    public boolean pipelines() {
        return true;
    }

    @Override
    public List<Setting> settingsInside(Duration longestLockWait) {
        return List.of(new Setting(
                "select cast(extract(epoch from cast(current_setting('lock_timeout') as interval)) * 1000 as bigint)",
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

    @Override
    public List<ForeignKey> foreignKeys(Connection connection, String schema, String table) throws SQLException {
        List<ForeignKey> keys = Dialect.super.foreignKeys(connection, schema, table);
        return keys.isEmpty()
                ? keys
                : PostgresForeignKeys.of(connection, schema, table).complete(keys);
    }

    /** The number of the cluster goes with its replicas; a database that was made from another one has a number of its own. */
    @Override
    public DatabaseIdentity whereabouts(Connection connection) throws SQLException {
        return DatabaseIdentity.ask(connection, WHEREABOUTS);
    }

    /**
     * A pooler that hands out a connection for each transaction, or for each statement, in the words and states of the server and of
     * poolers; the driver knows nothing of them.
     */
    @Override
    public Optional<UnfitConnection> unfit(SQLException failure) {
        String message = String.valueOf(failure.getMessage());
        if (STATEMENTS_MIXED_UP.contains(String.valueOf(failure.getSQLState()))
                && message.contains("prepared statement")) {
            return Optional.of(new UnfitConnection(
                    "A pooler seems to stand in between that hands out a connection for each transaction: it has mixed up the"
                            + " driver's prepared statements.",
                    "Nothing was changed; add prepareThreshold=0 to the address, or let the pooler keep track of prepared"
                            + " statements."));
        }
        if (message.contains("statement pooling")) {
            return Optional.of(new UnfitConnection(
                    "A pooler stands in between that hands out a connection for each statement, so nothing is all or nothing.",
                    "Nothing was changed; let it pool by transaction or by session."));
        }
        return Optional.empty();
    }

    /** Nothing else that begins a transaction isn't supported by some server (PostgreSQL, appendix A). */
    @Override
    public boolean refusesToWrite(SQLException failure) {
        return NOT_SUPPORTED.equals(failure.getSQLState());
    }

    @Override
    public boolean isLockFailure(SQLException failure) {
        return failure.getSQLState() != null && LOCK_STATES.contains(failure.getSQLState());
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
                + " not row_security_active(c.oid),"
                + " not exists (with recursive parts(oid) as (select c.oid union all select i.inhrelid from pg_inherits i"
                + " join parts on i.inhparent = parts.oid) select from parts join pg_class p on p.oid = parts.oid"
                + " where p.relkind = 'f')"
                + " from pg_class c join pg_namespace n on n.oid = c.relnamespace where c.relkind in ('r', 'p')"
                + " and n.nspname not like 'pg\\_%' and n.nspname <> 'information_schema'"
                + " and has_schema_privilege(n.oid, 'USAGE')";
        Map<List<String>, Access> access = new HashMap<>();
        try (PreparedStatement statement = connection.prepareStatement(query);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                access.put(
                        List.of(row.getString(1), row.getString(2)),
                        new Access(
                                row.getBoolean(3),
                                row.getBoolean(4),
                                row.getBoolean(5),
                                row.getBoolean(6),
                                true,
                                row.getBoolean(7)));
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
        return Optional.of(ofEach(
                tables,
                "case when current_setting('track_counts') = 'on'"
                        + " then sum(pg_stat_get_xact_tuples_deleted(r.oid)) end"));
    }

    @Override
    public Optional<Fragment> keepingRows(List<String> tables) {
        return Optional.of(ofEach(
                tables,
                "bool_or((select c.relrowsecurity from pg_class c where c.oid = r.oid)"
                        + " or exists (select 1 from pg_rewrite w where w.ev_class = r.oid and w.ev_type = '4')"
                        + " or exists (select 1 from pg_trigger t where t.tgrelid = r.oid and not t.tgisinternal"
                        + " and (t.tgtype & " + BEFORE_DELETE + ") = " + BEFORE_DELETE + "))"));
    }

    /** A value of each of several tables, aggregated over its partitions and whatever inherits from it. */
    private static Fragment ofEach(List<String> tables, String value) {
        return Fragment.of(
                "with recursive r(n, oid) as (select t.n, cast(t.name as regclass)::oid"
                        + " from unnest(cast(? as text[])) with ordinality as t(name, n) union"
                        + " select r.n, i.inhrelid from r join pg_inherits i on i.inhparent = r.oid)"
                        + " select " + value + " from r group by r.n order by r.n",
                (statement, index) ->
                        statement.setArray(index, statement.getConnection().createArrayOf("text", tables.toArray())));
    }

    @Override
    public String textType() {
        return "text";
    }

    @Override
    public Fragment among(List<String> columns, KeySet keys) {
        boolean nested = keys.types().stream().anyMatch(type -> type.castable().endsWith("[]"));
        if (columns.size() == 1 && !nested) {
            return new Fragment(
                    columns.get(0) + " = any(" + codec(keys.types().get(0)).array() + ")",
                    List.of(codec(keys.types().get(0)).elements(keys, 0)));
        }
        List<String> sets = new ArrayList<>();
        List<String> read = new ArrayList<>();
        List<String> names = new ArrayList<>();
        List<Binding> bindings = new ArrayList<>();
        for (int i = 0; i < columns.size(); i++) {
            PostgresCodec codec = codec(keys.types().get(i));
            sets.add(codec.spread());
            read.add(codec.spreadOut("k.c" + i));
            names.add("c" + i);
            bindings.add(codec.elements(keys, i));
        }
        String sql = "(" + String.join(", ", columns) + ") in (select " + String.join(", ", read) + " from unnest("
                + String.join(", ", sets) + ") as k(" + String.join(", ", names) + "))";
        return new Fragment(sql, bindings);
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
    public Fragment imageOf(List<Column> columns, String alias) {
        return images.of(columns, alias);
    }

    /** A function would write each of them down by the general way. */
    @Override
    public String concatenated(List<String> parts) {
        return "(" + String.join(" || ", parts) + ")";
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

    /** Byte by byte: to compare texts by the rules of a language takes most of the time of an index. */
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

    @Override
    public Fragment rowsOf(List<ColumnType> types, List<List<Object>> values) {
        return PostgresImages.rows(types, values);
    }

    @Override
    public Optional<ImageSource> readingImages(List<Column> columns, String content) {
        return Optional.of(images.read(columns, content));
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

    /** A constraint that isn't enforced isn't validated either; foreign keys are checked by triggers, which can be switched off. */
    @Override
    public boolean leavesUnchecked(Connection connection, String schema, String table) throws SQLException {
        try (PreparedStatement query = connection.prepareStatement("select 1 from pg_catalog.pg_class t"
                + " join pg_catalog.pg_namespace n on n.oid = t.relnamespace where n.nspname = ? and t.relname = ?"
                + " and (current_setting('session_replication_role') = 'replica'"
                + " or exists (select 1 from pg_catalog.pg_constraint c where c.conrelid = t.oid"
                + " and (c.condeferrable or not c.convalidated))"
                + " or exists (select 1 from pg_catalog.pg_trigger g where g.tgrelid = t.oid and g.tgisinternal"
                + " and g.tgenabled not in ('O', 'A')))")) {
            query.setString(1, schema);
            query.setString(2, table);
            try (ResultSet row = query.executeQuery()) {
                return row.next();
            }
        }
    }
}
