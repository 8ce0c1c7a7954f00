package dev.vacancy.internal.dialect;

import dev.vacancy.retirement.Dependent.Kind;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;

/** MariaDB and MySQL say by SHOW CREATE what makes a table, a view or a trigger again, and commit each change of a table. */
final class MariaDbReshaping implements Reshaping {

    private final Naming names;
    private final boolean isMariaDb;

    MariaDbReshaping(Naming names, boolean isMariaDb) {
        this.names = names;
        this.isMariaDb = isMariaDb;
    }

    @Override
    public List<Setting> settings(Duration longestLockWait) {
        // MySQL waits for a second at least.
        return List.of(new Setting(
                "select @@session.lock_wait_timeout", "set session lock_wait_timeout = ", isMariaDb ? 0 : 1, false));
    }

    @Override
    public List<String> use(Connection connection, Retiree retiree) throws SQLException {
        CatalogQuery ask = new CatalogQuery(connection);
        boolean counts =
                isMariaDb && ask.texts("select @@global.userstat").get(0).equals("1");
        if (!counts) {
            return List.of(
                    isMariaDb
                            ? "MariaDB keeps no figures of what is used (userstat is off): nobody knows whether anything still uses it."
                            : "MySQL isn't asked what is used: nobody knows whether anything still uses it.");
        }
        List<String> use = new ArrayList<>();
        List<List<String>> figures = ask.rows(
                "select rows_read, rows_changed from information_schema.table_statistics where table_schema = ? and table_name = ?",
                retiree.schema(),
                retiree.table());
        use.add(
                figures.isEmpty()
                        ? "MariaDB has counted no use of this table since its statistics began."
                        : "MariaDB has counted " + figures.get(0).get(0) + " rows read of " + retiree.table() + " and "
                                + figures.get(0).get(1) + " changed since its statistics began.");
        if (retiree.column().isPresent()) {
            use.add("Of a single column nobody counts anything.");
        }
        return use;
    }

    @Override
    public List<SchemaObject> watching(Connection connection, String schema, String table) throws SQLException {
        return new CatalogQuery(connection)
                        .rows(
                                "select trigger_name, action_statement from information_schema.triggers where event_object_schema = ? and event_object_table = ? and event_manipulation = 'UPDATE' order by 1",
                                schema,
                                table)
                        .stream()
                        .map(row -> SchemaObject.naming(Kind.TRIGGER, row.get(0), row.get(1)))
                        .toList();
    }

    @Override
    public Shape shape(Connection connection, Retiree retiree) throws SQLException {
        return new MariaDbObjects(names, new CatalogQuery(connection), retiree).shape();
    }
}
