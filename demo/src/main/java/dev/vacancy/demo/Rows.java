package dev.vacancy.demo;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.Collections;

/** Inserts rows into one table, many at a time. */
final class Rows implements AutoCloseable {
    private static final DateTimeFormatter WITH_SPACE = DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm:ss");
    private static final int BATCH = 1_000;

    private final PreparedStatement insert;
    private final boolean timesAreText;
    private int waiting;

    Rows(Connection connection, String table, int columns) throws SQLException {
        String values = String.join(", ", Collections.nCopies(columns, "?"));
        // SQLite has no type for a time; its own functions write one with a space between date and time.
        timesAreText = "SQLite".equals(connection.getMetaData().getDatabaseProductName());
        insert = connection.prepareStatement("insert into " + table + " values (" + values + ")");
    }

    void add(Object... values) throws SQLException {
        for (int i = 0; i < values.length; i++) {
            insert.setObject(i + 1, stored(values[i]));
        }
        insert.addBatch();
        if (++waiting == BATCH) {
            insert.executeBatch();
            waiting = 0;
        }
    }

    private Object stored(Object value) {
        return timesAreText && value instanceof LocalDateTime time ? WITH_SPACE.format(time) : value;
    }

    @Override
    public void close() throws SQLException {
        try (insert) {
            insert.executeBatch();
        }
    }
}
