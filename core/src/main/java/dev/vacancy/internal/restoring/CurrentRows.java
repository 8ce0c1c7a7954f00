package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Reads what stands in the database now, as the trail would have it. */
final class CurrentRows {
    private final Dialect dialect;
    private final Connection connection;

    CurrentRows(Dialect dialect, Connection connection) {
        this.dialect = dialect;
        this.connection = connection;
    }

    /** Reads columns of some records. */
    List<Map<Column, Object>> images(Table table, List<Column> columns, Condition condition) throws SQLException {
        List<String> read = columns.stream()
                .map(column -> dialect.codec(column).imageText(dialect.name(Statements.alias(), column)))
                .toList();
        Fragment from = condition
                .in(dialect, Statements.alias())
                .between(dialect.name(table) + " as " + Statements.alias() + " where ", "");
        List<Map<Column, Object>> images = new ArrayList<>();
        try (PreparedStatement query = Statements.select(read, from).prepare(connection);
                ResultSet row = query.executeQuery()) {
            while (row.next()) {
                Map<Column, Object> image = new LinkedHashMap<>();
                for (int i = 0; i < columns.size(); i++) {
                    image.put(columns.get(i), dialect.codec(columns.get(i)).readImage(row, i + 1));
                }
                images.add(image);
            }
        }
        return images;
    }

    /** Reads the keys of some records, as texts. */
    Set<List<String>> keys(Table table, Condition condition) throws SQLException {
        Set<List<String>> keys = new LinkedHashSet<>();
        for (Map<Column, Object> found : images(table, table.identity(), condition)) {
            keys.add(texts(table.identity(), found));
        }
        return keys;
    }

    /** Some values of a record as they are compared, and as the trail has those of keys. */
    List<String> texts(List<Column> columns, Map<Column, Object> image) {
        return columns.stream()
                .map(column -> dialect.codec(column).keyOf(image.get(column)))
                .toList();
    }
}
