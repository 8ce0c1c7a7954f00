package dev.vacancy.demo;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.Collections;

/** Inserts rows into one table, many at a time. */
final class Rows implements AutoCloseable {
    private static final int BATCH = 1_000;

    private final PreparedStatement insert;
    private int waiting;

    Rows(Connection connection, String table, int columns) throws SQLException {
        String values = String.join(", ", Collections.nCopies(columns, "?"));
        insert = connection.prepareStatement("insert into " + table + " values (" + values + ")");
    }

    void add(Object... values) throws SQLException {
        for (int i = 0; i < values.length; i++) {
            insert.setObject(i + 1, values[i]);
        }
        insert.addBatch();
        if (++waiting == BATCH) {
            insert.executeBatch();
            waiting = 0;
        }
    }

    @Override
    public void close() throws SQLException {
        try (insert) {
            insert.executeBatch();
        }
    }
}
