package dev.vacancy.demo;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;

/**
 * The database of Larkmoor Beekeepers' Co-operative: thirteen tables of keepers, apiaries, hives, queens and honey.
 *
 * <p>Scale 1 has 12 keepers, 6 apiaries, 40 hives, 60 queens, 400 inspections, 3,000 frame checks, 60 treatments, 20,000
 * readings, 15 honey batches and 120 photos; scale n has n times as many. The same scale gives the same records each
 * time.
 *
 * @since 0.1
 */
public final class Larkmoor {
    /** How many photos there are at scale 1; their keys count from 1. */
    public static final int PHOTOS = 120;

    private Larkmoor() {}

    /**
     * Makes the tables and fills them.
     *
     * @param connection a connection to an empty schema of a database that knows standard SQL; its transaction is
     *     committed
     * @param scale how many times the size of the demo, at least 1
     * @throws SQLException when the database refuses, because it has such tables already, for example
     */
    public static void create(Connection connection, int scale) throws SQLException {
        if (scale < 1) {
            throw new IllegalArgumentException("The scale is at least 1, not " + scale);
        }
        boolean autoCommit = connection.getAutoCommit();
        connection.setAutoCommit(false);
        createTables(connection);
        new Generator(connection, scale).fill();
        connection.commit();
        connection.setAutoCommit(autoCommit);
    }

    private static void createTables(Connection connection) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            for (String definition : script().replaceAll("(?m)^--.*$", "").split(";", -1)) {
                if (!definition.isBlank()) {
                    statement.execute(definition);
                }
            }
        }
    }

    private static String script() {
        try (InputStream script = Larkmoor.class.getResourceAsStream("larkmoor.sql")) {
            return new String(script.readAllBytes(), StandardCharsets.UTF_8);
        } catch (IOException unreadable) {
            throw new UncheckedIOException(unreadable);
        }
    }
}
