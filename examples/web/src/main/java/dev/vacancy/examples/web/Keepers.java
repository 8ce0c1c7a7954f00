package dev.vacancy.examples.web;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import javax.sql.DataSource;

/** What the application itself reads: keepers who may act, and the hives of its list. */
final class Keepers {
    private final DataSource dataSource;

    Keepers(DataSource dataSource) {
        this.dataSource = dataSource;
    }

    /** Those who may act, each name by e-mail address. */
    Map<String, String> active() {
        Map<String, String> active = new LinkedHashMap<>();
        rows("select email, name from keeper where left_at is null order by name")
                .forEach(row -> active.put(row.get(0), row.get(1)));
        return active;
    }

    boolean isActive(String email) {
        return !rows("select email from keeper where left_at is null and email = ?", email)
                .isEmpty();
    }

    /** Rows of text. */
    List<List<String>> rows(String sql, Object... values) {
        try (Connection connection = dataSource.getConnection();
                PreparedStatement query = connection.prepareStatement(sql)) {
            for (int i = 0; i < values.length; i++) {
                query.setObject(i + 1, values[i]);
            }
            List<List<String>> rows = new ArrayList<>();
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    List<String> texts = new ArrayList<>();
                    for (int i = 1; i <= row.getMetaData().getColumnCount(); i++) {
                        String text = row.getString(i);
                        texts.add(text == null ? "" : text);
                    }
                    rows.add(texts);
                }
            }
            return rows;
        } catch (SQLException failure) {
            throw new IllegalStateException(failure);
        }
    }
}
