package dev.vacancy.testing;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.StringJoiner;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.regex.Pattern;
import javax.sql.DataSource;

/** A database of one test: a data source that counts its statements, and short ways to fill and read tables. */
public final class Database {
    private static final Pattern TABLE = Pattern.compile("[a-zA-Z0-9_.\" ]+");

    private final Engine engine;
    private final DataSource source;
    private final AtomicInteger statements = new AtomicInteger();

    Database(Engine engine, DataSource source) {
        this.engine = engine;
        this.source = source;
    }

    /** The data source as an application has it. */
    public DataSource source() {
        return source;
    }

    /** A data source that counts the statements prepared over it. */
    public DataSource counting() {
        return WatchedDataSource.over(source, statements);
    }

    /** A data source that always hands out one connection and leaves it open. */
    public static DataSource always(Connection connection) {
        return WatchedDataSource.always(connection);
    }

    /** How many statements have been prepared over {@link #counting()} since the last call. */
    public int statements() {
        return statements.getAndSet(0);
    }

    /** Opens a connection of its own. */
    public Connection connect() throws SQLException {
        return source.getConnection();
    }

    /** Runs statements, each by itself. */
    public Database run(String... statements) {
        try (Connection connection = connect();
                Statement statement = connection.createStatement()) {
            for (String sql : statements) {
                for (String spoken : engine.speak(sql)) {
                    statement.execute(spoken);
                }
            }
            return this;
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }

    /** The schema that a statement means when it names none. */
    public String ownSchema() {
        return rows(engine == Engine.MARIADB ? "select database()" : "select current_schema")
                .get(0);
    }

    /** Makes a second schema, and returns its name as this database knows it. */
    public String schema(String name) {
        String own = engine == Engine.MARIADB ? ownSchema() + "_" + name : name;
        run("create schema " + own);
        return own;
    }

    /** Counts the rows of a table. */
    public long count(String table) {
        if (!TABLE.matcher(table).matches()) {
            throw new IllegalArgumentException(table);
        }
        return Long.parseLong(rows("select count(*) from " + table).get(0));
    }

    /** Reads rows as text, values separated by {@code |}. */
    public List<String> rows(String query) {
        try (Connection connection = connect()) {
            return rows(connection, engine.speak(query).get(0));
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }

    /** Reads all rows of some tables, sorted, to tell whether anything has changed. */
    public List<String> contents(String... tables) {
        try (Connection connection = connect()) {
            return contents(connection, tables);
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }

    /** Does the same inside a transaction. */
    public static List<String> contents(Connection connection, String... tables) throws SQLException {
        List<String> contents = new ArrayList<>();
        for (String table : tables) {
            contents.add(table + ": "
                    + rows(connection, "select * from " + table).stream()
                            .sorted()
                            .toList());
        }
        return contents;
    }

    /** Reads rows as text inside a transaction, values separated by {@code |}. */
    public static List<String> rows(Connection connection, String query) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(query);
                ResultSet row = statement.executeQuery()) {
            List<String> rows = new ArrayList<>();
            while (row.next()) {
                StringJoiner values = new StringJoiner("|");
                for (int i = 1; i <= row.getMetaData().getColumnCount(); i++) {
                    values.add(String.valueOf(row.getObject(i)));
                }
                rows.add(values.toString());
            }
            return rows;
        }
    }
}
