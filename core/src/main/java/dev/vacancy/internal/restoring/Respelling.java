package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Spells the values of images as this session does, so that they can be compared as texts with what stands there now. */
final class Respelling {
    private final Dialect dialect;
    private final Connection connection;

    Respelling(Dialect dialect, Connection connection) {
        this.dialect = dialect;
        this.connection = connection;
    }

    /** Returns the same records with values as this session writes them. */
    List<RestorableRow> of(List<RestorableRow> rows) throws SQLException {
        Set<Column> columns = new LinkedHashSet<>();
        rows.forEach(row -> columns.addAll(row.image().keySet()));
        List<RestorableRow> result = rows;
        for (Column column : columns) {
            List<String> texts = texts(rows, column);
            Optional<Fragment> query = dialect.codec(column).respelled(texts);
            if (query.isPresent() && !texts.isEmpty()) {
                Map<String, String> respelled = read(query.get());
                result =
                        result.stream().map(row -> with(row, column, respelled)).toList();
            }
        }
        return result;
    }

    private static List<String> texts(List<RestorableRow> rows, Column column) {
        return rows.stream()
                .map(row -> row.image().get(column))
                .filter(String.class::isInstance)
                .map(String.class::cast)
                .distinct()
                .toList();
    }

    /** What can't be read any more stays as it is, so that whoever looks for what has no room finds it. */
    private Map<String, String> read(Fragment query) throws SQLException {
        Map<String, String> respelled = new HashMap<>();
        Savepoint before = connection.setSavepoint();
        try (PreparedStatement statement = query.prepare(connection);
                ResultSet row = statement.executeQuery()) {
            while (row.next()) {
                respelled.put(row.getString(1), row.getString(2));
            }
            connection.releaseSavepoint(before);
        } catch (SQLException refused) {
            if (!RefusedRecord.isByData(refused, dialect)) {
                throw refused;
            }
            connection.rollback(before);
        }
        return respelled;
    }

    private static RestorableRow with(RestorableRow row, Column column, Map<String, String> respelled) {
        if (!(row.image().get(column) instanceof String text) || !respelled.containsKey(text)) {
            return row;
        }
        Map<Column, Object> image = new LinkedHashMap<>(row.image());
        image.put(column, respelled.get(text));
        return new RestorableRow(row.entry(), image);
    }
}
