package dev.vacancy.bench;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import javax.sql.DataSource;

/** A server of its own, whose databases are copied from one that is never touched. */
final class PostgresStore implements Store {
    private final EmbeddedPostgres server;

    PostgresStore(int hives) throws IOException, SQLException {
        server = EmbeddedPostgres.builder()
                .setServerConfig("fsync", "off")
                .setServerConfig("autovacuum", "off")
                .setServerConfig("shared_buffers", "512MB")
                .setServerConfig("max_wal_size", "8GB")
                .start();
        execute("create database larkmoor");
        try (Connection connection = server.getDatabase("postgres", "larkmoor").getConnection();
                Statement statement = connection.createStatement()) {
            Yard.fill(connection, "generate_series(1, %d) as s(n)", hives);
            statement.execute("vacuum analyze");
        }
        execute("checkpoint");
    }

    @Override
    public String name() {
        return "PostgreSQL";
    }

    @Override
    public DataSource fresh() throws SQLException {
        execute("drop database if exists measured with (force)");
        execute("create database measured template larkmoor strategy file_copy");
        return server.getDatabase("postgres", "measured");
    }

    private void execute(String sql) throws SQLException {
        try (Connection connection = server.getPostgresDatabase().getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }

    @Override
    public void close() throws IOException {
        server.close();
    }
}
