package dev.vacancy.clusters;

import dev.vacancy.testing.Database;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.util.List;
import javax.sql.DataSource;
import org.awaitility.Awaitility;

/** Short ways to ask servers, and to wait for them. */
final class Servers {
    private Servers() {}

    static void execute(DataSource source, String... statements) {
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement()) {
            for (String sql : statements) {
                statement.execute(sql);
            }
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }

    /** Reads rows as text, values separated by {@code |}. */
    static List<String> rows(DataSource source, String query) {
        try (Connection connection = source.getConnection()) {
            return Database.rows(connection, query);
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }

    static String value(DataSource source, String query) {
        return rows(source, query).get(0);
    }

    static long count(DataSource source, String from) {
        return Long.parseLong(value(source, "select count(*) from " + from));
    }

    static void awaitValue(DataSource source, String query, String expected) {
        Awaitility.await()
                .atMost(Duration.ofSeconds(60))
                .pollInterval(Duration.ofMillis(100))
                .ignoreExceptions()
                .until(() -> value(source, query).equals(expected));
    }
}
