package dev.vacancy.internal.dialect;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** PostgreSQL knows what depends on what, and changes tables as part of a transaction. */
final class PostgresReshaping implements Reshaping {
    /** Whoever comes after a statement that waits for a lock waits behind it: so none waits longer, in milliseconds. */
    private static final String LONGEST_QUEUE = "set local lock_timeout = 20";

    private final Naming names;

    PostgresReshaping(Naming names) {
        this.names = names;
    }

    @Override
    public List<Setting> settings(Duration longestLockWait) {
        return List.of();
    }

    @Override
    public List<String> locking(Retiree retiree, boolean aside) {
        String table = names.name(retiree.schema(), aside ? retiree.tableAside() : retiree.table());
        return List.of(LONGEST_QUEUE, "lock table " + table + " in access exclusive mode nowait");
    }

    @Override
    public List<String> use(Connection connection, Retiree retiree) throws SQLException {
        CatalogQuery ask = new CatalogQuery(connection);
        boolean moments = !ask.texts(
                        "select 1 from pg_attribute where attrelid = 'pg_catalog.pg_stat_user_tables'::regclass and attname = 'last_seq_scan'")
                .isEmpty();
        List<List<String>> figures = ask.rows(
                "select s.seq_scan + coalesce(s.idx_scan, 0), s.n_tup_ins + s.n_tup_upd + s.n_tup_del, "
                        + (moments
                                ? "to_char(greatest(s.last_seq_scan, s.last_idx_scan) at time zone 'UTC', 'YYYY-MM-DD\"T\"HH24:MI:SS\"Z\"')"
                                : "null")
                        + ", (select to_char(d.stats_reset at time zone 'UTC', 'YYYY-MM-DD\"T\"HH24:MI:SS\"Z\"') from pg_stat_database d where d.datname = current_database())"
                        + " from pg_stat_user_tables s where s.schemaname = ? and s.relname = ?",
                retiree.schema(),
                retiree.table());
        List<String> use = new ArrayList<>();
        if (figures.isEmpty()) {
            use.add("PostgreSQL has counted nothing of this table: nobody knows whether anything still uses it.");
        } else {
            List<String> row = figures.get(0);
            use.add("PostgreSQL has counted " + row.get(0) + " scans of " + SqlWords.shown(retiree.table()) + " and "
                    + row.get(1)
                    + " rows written" + (row.get(3) == null ? "" : " since " + row.get(3))
                    + (row.get(2) == null ? "" : "; the last scan was at " + row.get(2)) + ".");
        }
        if (retiree.column().isPresent()) {
            use.add("Of a single column nobody counts anything.");
        }
        return use;
    }

    @Override
    public List<SchemaObject> watching(Connection connection, String schema, String table) throws SQLException {
        return new PostgresObjects(names, connection, new Retiree(schema, table, Optional.empty(), table)).watching();
    }

    @Override
    public Shape shape(Connection connection, Retiree retiree) throws SQLException {
        PostgresObjects objects = new PostgresObjects(names, connection, retiree);
        List<SchemaObject> all = new ArrayList<>(objects.views());
        all.addAll(objects.linksFromElsewhere());
        all.addAll(objects.routines());
        all.addAll(objects.triggers());
        all.addAll(objects.ownLinks());
        all.addAll(objects.constraints());
        all.addAll(objects.indexes());
        all.addAll(objects.policies());
        all.addAll(objects.statistics());
        all.addAll(objects.grants());
        all.addAll(objects.sequences());
        all.addAll(objects.publications());
        List<String> unknown = List.of(
                "PostgreSQL doesn't tell what functions in other languages than SQL and PL/pgSQL, and what statements put together as text, read and write.");
        String table = objects.table();
        PostgresText text = new PostgresText(names, connection);
        if (retiree.column().isEmpty()) {
            all.addAll(objects.parts());
            all.addAll(objects.usesAsType());
            String aside = names.name(retiree.schema(), retiree.aside());
            return new Shape(
                    all,
                    List.of("alter table " + table + " rename to " + names.quote(retiree.aside())),
                    List.of("alter table " + aside + " rename to " + names.quote(retiree.table())),
                    List.of("drop table " + aside + " restrict"),
                    text.table(objects.oid(), table),
                    List.of(),
                    text.afterFilling(objects.oid(), table),
                    unknown);
        }
        String column = names.quote(retiree.column().get());
        String aside = names.quote(retiree.aside());
        all.addAll(objects.ofColumn());
        return new Shape(
                all,
                List.of("alter table " + table + " rename column " + column + " to " + aside),
                List.of("alter table " + table + " rename column " + aside + " to " + column),
                List.of("alter table " + table + " drop column " + aside + " restrict"),
                text.column(objects.oid(), table, objects.attribute()),
                List.of(),
                List.of(),
                unknown);
    }
}
