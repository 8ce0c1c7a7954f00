package dev.vacancy.internal.retiring;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.failure.Deviations;
import dev.vacancy.internal.restoring.CurrentRows;
import dev.vacancy.internal.trail.Image;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.stream.Collectors;

/**
 * What a column or a table holds, as lines of JSON: of a table its records, of a column its values with the keys of their records.
 *
 * @param dialect the dialect of the database
 * @param connection an open connection
 */
record RetiredContent(Dialect dialect, Connection connection) {
    private static final int VALUES_AT_ONCE = 2_000;
    private static final int ROWS_AT_ONCE = 500;

    /**
     * Reads it, a line for each record, and returns how many of them hold anything. What is set aside has its own name in them.
     */
    long read(Table table, Optional<Column> column, Optional<String> name, Consumer<String> line) throws SQLException {
        List<Column> read = new ArrayList<>();
        if (column.isPresent()) {
            if (column.get().generated()) {
                return 0;
            }
            read.addAll(table.identity());
            read.add(column.get());
        } else {
            table.columns().stream().filter(part -> !part.generated()).forEach(read::add);
        }
        long[] count = {0};
        Map<Column, Long> written = new LinkedHashMap<>();
        read.forEach(part -> written.put(part, 0L));
        new CurrentRows(dialect, connection).each(table, read, new Condition.Any(), query -> query, image -> {
            image.forEach((part, value) -> written.merge(part, value == null ? 0L : 1L, Long::sum));
            Map<String, Object> values = new LinkedHashMap<>();
            image.forEach((part, value) -> values.put(
                    column.filter(part::equals).flatMap(retired -> name).orElse(part.storedName()), value));
            line.accept(Image.write(values));
            count[0] += column.isPresent() && image.get(column.get()) == null ? 0 : 1;
        });
        if (column.isPresent()) {
            written.keySet().retainAll(List.of(column.get()));
        }
        requireWhole(table, written);
        return count[0];
    }

    /** What a database has no room for in a text is none, and would be gone. */
    private void requireWhole(Table table, Map<Column, Long> written) throws SQLException {
        String counts = written.keySet().stream()
                .map(part -> "count(" + dialect.quote(part.storedName()) + ")")
                .collect(Collectors.joining(", "));
        try (PreparedStatement query =
                        connection.prepareStatement("select " + counts + " from " + dialect.name(table));
                ResultSet row = query.executeQuery()) {
            row.next();
            int place = 0;
            for (Map.Entry<Column, Long> part : written.entrySet()) {
                long there = row.getLong(++place);
                if (there != part.getValue()) {
                    throw new InvalidRequestException(
                            FailureCode.IMAGE_NOT_WHOLE,
                            part.getValue() + " of " + there + " values of " + table + "." + part.getKey()
                                    + " could be written to the file whole.",
                            "Nothing was dropped. Try again if somebody was writing just now; raise max_allowed_packet where"
                                    + " values are too large for it.");
                }
            }
        }
    }

    /** Fills it again; a column that was just made may have values already, by a default, which those without one have to lose. */
    void fill(Table table, Optional<Column> column, boolean defaults, ContentFiles files) throws SQLException {
        if (column.isPresent()) {
            // What the database sets at each change is set to what it is.
            List<String> kept = dialect.setAtEachChange(connection, table.schema(), table.storedName());
            files.read(
                    ROWS_AT_ONCE,
                    lines -> update(table, column.get(), kept, defaults ? lines : filled(lines, column.get())));
        } else {
            List<Column> written =
                    table.columns().stream().filter(part -> !part.generated()).toList();
            int most = Math.max(1, Math.min(ROWS_AT_ONCE, VALUES_AT_ONCE / written.size()));
            LineSum given = new LineSum();
            files.read(most, lines -> {
                lines.forEach(line -> given.add(Image.write(line)));
                insert(table, written, lines);
            });
            LineSum filled = new LineSum();
            read(table, Optional.empty(), Optional.empty(), filled::add);
            if (!filled.isSame(given)) {
                throw Deviations.otherwise(table.name(), "as a whole", List.of("what the file has of its records"));
            }
        }
    }

    private static List<Map<String, Object>> filled(List<Map<String, Object>> lines, Column column) {
        return lines.stream()
                .filter(line -> line.get(column.storedName()) != null)
                .toList();
    }

    private void insert(Table table, List<Column> columns, List<Map<String, Object>> lines) throws SQLException {
        List<List<Object>> rows = lines.stream()
                .map(line -> {
                    List<Object> row = new ArrayList<>();
                    columns.forEach(column -> row.add(line.get(column.storedName())));
                    return row;
                })
                .toList();
        Fragment insertion = dialect.rowsOf(columns.stream().map(ColumnType::of).toList(), rows)
                .between(
                        dialect.beforeInsertion() + "insert into " + dialect.name(table) + " ("
                                + String.join(", ", dialect.names(columns)) + ")" + dialect.overridingIdentity(),
                        "");
        try (PreparedStatement statement = insertion.prepare(connection)) {
            statement.executeUpdate();
        }
    }

    /** Records that have gone meanwhile get nothing. */
    private void update(Table table, Column column, List<String> kept, List<Map<String, Object>> lines)
            throws SQLException {
        String same = kept.stream()
                .map(dialect::quote)
                .map(name -> ", " + name + " = " + name)
                .collect(Collectors.joining());
        Map<String, List<Fragment>> bySql = new LinkedHashMap<>();
        for (Map<String, Object> line : lines) {
            List<Fragment> conditions = new ArrayList<>();
            for (Column part : table.identity()) {
                conditions.add(dialect.codec(part)
                        .fromImage(line.get(part.storedName()))
                        .between(dialect.quote(part.storedName()) + " = ", ""));
            }
            Object value = line.get(column.storedName());
            Fragment change = (value == null
                            ? Fragment.of("null")
                            : dialect.codec(column).fromImage(value))
                    .between(
                            "update " + dialect.name(table) + " set " + dialect.quote(column.storedName()) + " = ",
                            same + " where ")
                    .then(Fragment.join(" and ", conditions));
            bySql.computeIfAbsent(change.sql(), sql -> new ArrayList<>()).add(change);
        }
        for (Map.Entry<String, List<Fragment>> alike : bySql.entrySet()) {
            try (PreparedStatement batch = connection.prepareStatement(alike.getKey())) {
                for (Fragment change : alike.getValue()) {
                    int place = 0;
                    for (Binding binding : change.bindings()) {
                        binding.bind(batch, ++place);
                    }
                    batch.addBatch();
                }
                batch.executeBatch();
            }
        }
    }
}
