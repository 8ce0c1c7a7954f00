package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.SqlCondition;
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
import java.util.function.Consumer;
import java.util.function.UnaryOperator;

/**
 * Reads what stands in the database now, as the trail would have it.
 *
 * @since 0.1
 */
public final class CurrentRows {
    private static final int FETCHED = 1_000;

    private final Dialect dialect;
    private final Connection connection;

    /**
     * Reads nothing yet.
     *
     * @param dialect the dialect of the database
     * @param connection an open connection
     */
    public CurrentRows(Dialect dialect, Connection connection) {
        this.dialect = dialect;
        this.connection = connection;
    }

    /** Reads columns of some records. */
    List<Map<Column, Object>> images(Table table, List<Column> columns, Condition condition) throws SQLException {
        List<Map<Column, Object>> images = new ArrayList<>();
        each(table, columns, condition, query -> query, images::add);
        return images;
    }

    /**
     * Reads columns of records one by one, however many there are.
     *
     * @param table the table
     * @param columns the columns
     * @param condition picks the records
     * @param how makes of the query what is asked, to lock the records for instance
     * @param each takes each record's values; it must not use the connection
     * @throws SQLException when the database doesn't answer
     */
    public void each(
            Table table,
            List<Column> columns,
            Condition condition,
            UnaryOperator<Fragment> how,
            Consumer<Map<Column, Object>> each)
            throws SQLException {
        List<String> read = columns.stream()
                .map(column -> dialect.codec(column).imageText(dialect.name(Statements.alias(), column)))
                .toList();
        Fragment from = SqlCondition.of(condition, dialect, Statements.alias())
                .between(dialect.name(table) + " as " + Statements.alias() + " where ", "");
        try (PreparedStatement query = how.apply(Statements.select(read, from)).prepare(connection)) {
            query.setFetchSize(FETCHED);
            read(query, columns, each);
        }
    }

    private void read(PreparedStatement query, List<Column> columns, Consumer<Map<Column, Object>> each)
            throws SQLException {
        try (ResultSet row = query.executeQuery()) {
            while (row.next()) {
                Map<Column, Object> image = new LinkedHashMap<>();
                for (int i = 0; i < columns.size(); i++) {
                    image.put(columns.get(i), dialect.codec(columns.get(i)).readImage(row, i + 1));
                }
                each.accept(image);
            }
        }
    }

    /** Reads the keys of some records, as texts. */
    Set<List<String>> keys(Table table, Condition condition) throws SQLException {
        Set<List<String>> keys = new LinkedHashSet<>();
        for (Map<Column, Object> found : images(table, table.identity(), condition)) {
            keys.add(texts(table.identity(), found));
        }
        return keys;
    }

    /**
     * Spells values of a record as they are compared, and as the trail has those of keys.
     *
     * @param columns the columns
     * @param image the record's values
     * @return their texts
     */
    public List<String> texts(List<Column> columns, Map<Column, Object> image) {
        return columns.stream()
                .map(column -> dialect.codec(column).keyOf(image.get(column)))
                .toList();
    }
}
