package dev.vacancy.internal.trail;

import dev.vacancy.internal.dialect.Fragment;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/** Reads rows of tables of ours. */
final class OwnRows {
    private OwnRows() {}

    /** Makes something of a row. */
    @FunctionalInterface
    interface Reading<T> {
        T of(ResultSet row) throws SQLException;
    }

    /** Reads all rows of a query, one value for each of its question marks. */
    static <T> List<T> read(Connection connection, String query, Reading<T> reading, Object... values)
            throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(query)) {
            for (int i = 0; i < values.length; i++) {
                statement.setObject(i + 1, values[i]);
            }
            return all(statement, reading);
        }
    }

    /** Reads all rows of a query that brings its values. */
    static <T> List<T> read(Connection connection, Fragment query, Reading<T> reading) throws SQLException {
        try (PreparedStatement statement = query.prepare(connection)) {
            return all(statement, reading);
        }
    }

    private static <T> List<T> all(PreparedStatement statement, Reading<T> reading) throws SQLException {
        List<T> read = new ArrayList<>();
        try (ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                read.add(reading.of(row));
            }
        }
        return read;
    }
}
