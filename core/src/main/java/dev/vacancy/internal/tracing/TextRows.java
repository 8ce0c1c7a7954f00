package dev.vacancy.internal.tracing;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.SqlCondition;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.restoring.CurrentRows;
import dev.vacancy.internal.rules.PersonTrace.TextPlace;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.SoughtText;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;

/**
 * Records in which somebody has written about a person. Each text is read, as databases differ in what letters they take for the same.
 *
 * @param rules the rules, with what counts the changes of records
 */
record TextRows(Rules rules, Dialect dialect, Connection connection, Duration lockWait) {
    /** How many records are asked for at once. */
    private static final int AT_ONCE = 500;

    /**
     * A record with such a text.
     *
     * @param image its key, as the database makes it again
     * @param key its key, as the trail spells it
     * @param text the whole text
     */
    record Row(List<Object> image, List<String> key, String text) {
        Row {
            image = List.copyOf(image);
            key = List.copyOf(key);
        }
    }

    /** Finds those that stay: of what goes with the person, nothing has to be masked. */
    List<Row> find(TextPlace place, SoughtText sought, Planned planned, boolean locking) throws SQLException {
        List<Row> found = read(place, new Condition.Not(new Condition.IsNull(place.column())), sought, false);
        if (found.isEmpty()) {
            return found;
        }
        List<List<String>> going = going(place.table(), found, planned);
        found.removeIf(row -> going.contains(row.key()));
        return locking ? locked(place, found, sought) : found;
    }

    private List<Row> read(TextPlace place, Condition condition, SoughtText sought, boolean locking)
            throws SQLException {
        List<Column> columns = new ArrayList<>(place.table().identity());
        columns.add(place.column());
        UnaryOperator<Fragment> how = query -> locking ? dialect.governed(dialect.locking(query), lockWait) : query;
        CurrentRows rows = new CurrentRows(dialect, connection);
        List<Row> found = new ArrayList<>();
        rows.each(place.table(), columns, condition, how, image -> {
            Object text = image.get(place.column());
            if (text != null && sought.isIn(text.toString())) {
                List<Column> identity = place.table().identity();
                found.add(new Row(
                        identity.stream().map(image::get).toList(), rows.texts(identity, image), text.toString()));
            }
        });
        return found;
    }

    private List<List<String>> going(Table table, List<Row> rows, Planned planned) throws SQLException {
        List<List<String>> going = new ArrayList<>();
        CurrentRows reader = new CurrentRows(dialect, connection);
        Optional<Condition> deleted = planned.plan().counts().containsKey(table.name())
                        && !planned.plan().marked().contains(table.name())
                ? planned.going().apply(table)
                : Optional.empty();
        if (deleted.isPresent()) {
            for (List<Row> portion : portions(rows)) {
                Condition both = new Condition.AllOf(List.of(among(table, portion), deleted.get()));
                reader.each(
                        table,
                        table.identity(),
                        both,
                        query -> query,
                        image -> going.add(reader.texts(table.identity(), image)));
            }
        }
        return going;
    }

    /** What is written in the meantime is neither lost nor overlooked. */
    private List<Row> locked(TextPlace place, List<Row> rows, SoughtText sought) throws SQLException {
        List<Row> locked = new ArrayList<>();
        for (List<Row> portion : portions(rows)) {
            locked.addAll(read(place, among(place.table(), portion), sought, true));
        }
        return locked;
    }

    static Condition among(Table table, List<Row> rows) {
        return new Condition.Pictured(
                table.identity(), rows.stream().map(Row::image).toList());
    }

    private static List<List<Row>> portions(List<Row> rows) {
        List<List<Row>> portions = new ArrayList<>();
        for (int from = 0; from < rows.size(); from += AT_ONCE) {
            portions.add(rows.subList(from, Math.min(rows.size(), from + AT_ONCE)));
        }
        return portions;
    }

    /** Masks the texts, record by record. */
    void mask(TextPlace place, List<Row> rows, SoughtText sought) throws SQLException {
        Column version = rules.softness().versions().get(place.table());
        for (Row row : rows) {
            Map<Column, Fragment> values = new LinkedHashMap<>();
            values.put(place.column(), dialect.codec(place.column()).stored(sought.maskedIn(row.text())));
            if (version != null) {
                values.put(version, Fragment.of("coalesce(" + dialect.name(Statements.alias(), version) + ", 0) + 1"));
            }
            Fragment update = dialect.update(
                    dialect.name(place.table()),
                    Statements.alias(),
                    dialect.names(Statements.alias(), place.table().identity()),
                    dialect.names(List.copyOf(values.keySet())),
                    List.copyOf(values.values()),
                    SqlCondition.alternatives(among(place.table(), List.of(row)), dialect),
                    1);
            try (PreparedStatement statement =
                    dialect.governed(update, lockWait).prepare(connection)) {
                statement.executeUpdate();
            }
        }
    }
}
