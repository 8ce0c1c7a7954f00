package dev.vacancy.testing;

import io.zonky.test.db.postgres.embedded.EmbeddedPostgres;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.UUID;
import javax.sql.DataSource;
import org.h2.jdbcx.JdbcDataSource;

/** The databases that every behaviour is tested on. Each test gets an empty one of its own. */
public enum Engine {
    H2,
    POSTGRESQL;

    /** Makes an empty database. */
    public Database database() {
        return new Database(
                switch (this) {
                    case H2 -> emptyH2();
                    case POSTGRESQL -> emptyPostgres();
                });
    }

    private static DataSource emptyH2() {
        JdbcDataSource source = new JdbcDataSource();
        source.setURL("jdbc:h2:mem:" + UUID.randomUUID() + ";DB_CLOSE_DELAY=-1;LOCK_TIMEOUT=200");
        source.setUser("sa");
        return source;
    }

    private static DataSource emptyPostgres() {
        String name = "test_" + UUID.randomUUID().toString().replace('-', '_');
        EmbeddedPostgres server = PostgresServer.RUNNING;
        try (Connection connection = server.getPostgresDatabase().getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute("create database " + name);
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
        return server.getDatabase("postgres", name);
    }

    /** One server for all tests, started when the first of them asks and stopped with the virtual machine. */
    private static final class PostgresServer {
        static final EmbeddedPostgres RUNNING = start();

        private static EmbeddedPostgres start() {
            try {
                return EmbeddedPostgres.builder()
                        .setServerConfig("fsync", "off")
                        .setServerConfig("max_connections", "50")
                        .start();
            } catch (IOException failure) {
                throw new UncheckedIOException(failure);
            }
        }
    }
}
