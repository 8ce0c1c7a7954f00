package dev.vacancy.internal.dialect;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;

/** Asks a database about itself: a query with values, and its rows as texts. */
record CatalogQuery(Connection connection) {
    /** Reads rows; null stays null. */
    List<List<String>> rows(String sql, Object... values) throws SQLException {
        try (PreparedStatement query = connection.prepareStatement(sql)) {
            for (int i = 0; i < values.length; i++) {
                query.setObject(i + 1, values[i]);
            }
            List<List<String>> rows = new ArrayList<>();
            try (ResultSet row = query.executeQuery()) {
                int columns = row.getMetaData().getColumnCount();
                while (row.next()) {
                    List<String> texts = new ArrayList<>();
                    for (int i = 1; i <= columns; i++) {
                        texts.add(row.getString(i));
                    }
                    rows.add(texts);
                }
            }
            return rows;
        }
    }

    /** Reads the first column of rows. */
    List<String> texts(String sql, Object... values) throws SQLException {
        return rows(sql, values).stream().map(row -> row.get(0)).toList();
    }
}
