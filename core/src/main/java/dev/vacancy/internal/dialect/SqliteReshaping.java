package dev.vacancy.internal.dialect;

import dev.vacancy.retirement.Dependent.Kind;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * SQLite keeps the text of each definition. It changes little of a table, so the table is made anew and filled, as its documentation says
 * ("Making Other Kinds Of Table Schema Changes"), with foreign keys off, so that dropping the old one takes no records along.
 */
final class SqliteReshaping implements Reshaping {
    private final Dialect dialect;

    SqliteReshaping(Dialect dialect) {
        this.dialect = dialect;
    }

    @Override
    public List<Setting> settings(Duration longestLockWait) {
        return List.of(
                new Setting("pragma foreign_keys", "pragma foreign_keys = ", 0, false),
                new Setting("pragma legacy_alter_table", "pragma legacy_alter_table = ", 1, false),
                new Setting("pragma busy_timeout", "pragma busy_timeout = ", longestLockWait.toMillis(), false));
    }

    @Override
    public List<String> use(Connection connection, Retiree retiree) {
        return List.of("SQLite keeps no figures of what is used: nobody knows whether anything still uses it.");
    }

    @Override
    public Optional<String> text(Connection connection, List<String> tables) throws SQLException {
        List<String> texts = new ArrayList<>();
        for (String table : tables) {
            texts.addAll(new CatalogQuery(connection)
                    .texts(
                            "select sql from sqlite_schema where tbl_name = ? collate nocase and sql is not null order by type, name",
                            table));
        }
        return Optional.of(String.join(";\n", texts));
    }

    /** With foreign keys off nothing else has looked. */
    @Override
    public List<String> violations(Connection connection, Retiree retiree) throws SQLException {
        return new CatalogQuery(connection)
                        .rows(
                                "select \"table\", parent, count(*) from pragma_foreign_key_check group by 1, 2 order by 1, 2")
                        .stream()
                        .filter(row -> row.get(0).equalsIgnoreCase(retiree.table())
                                || row.get(1).equalsIgnoreCase(retiree.table()))
                        .map(row -> row.get(2) + " records of " + row.get(0) + " refer to records of " + row.get(1)
                                + " that aren't there")
                        .toList();
    }

    @Override
    public List<SchemaObject> watching(Connection connection, String schema, String table) throws SQLException {
        return new CatalogQuery(connection)
                        .rows(
                                "select name, sql from sqlite_schema where type = 'trigger' and tbl_name = ? collate nocase order by rowid",
                                table)
                        .stream()
                        .map(row -> SchemaObject.apart(
                                Kind.TRIGGER,
                                row.get(0),
                                row.get(1),
                                "drop trigger " + dialect.quote(row.get(0)),
                                row.get(1)))
                        .toList();
    }

    @Override
    public Shape shape(Connection connection, Retiree retiree) throws SQLException {
        return new SqliteObjects(dialect, new CatalogQuery(connection), retiree).shape();
    }
}
