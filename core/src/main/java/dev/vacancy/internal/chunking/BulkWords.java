package dev.vacancy.internal.chunking;

import dev.vacancy.bulk.BulkState;
import dev.vacancy.history.Mention;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.restoring.TextElsewhere;
import dev.vacancy.internal.trail.Image;
import dev.vacancy.internal.trail.SoughtText;
import java.nio.ByteBuffer;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.BiPredicate;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;

/**
 * The words that people left in the tables of bulk runs: what they selected, why, and the keys of their records.
 *
 * @since 0.1
 */
public final class BulkWords implements TextElsewhere {
    private static final String ERASED = "(erased)";
    private static final int FETCHED = 1_000;

    private final Dialect dialect;

    /**
     * Looks at nothing yet.
     *
     * @param dialect the dialect of the database
     */
    public BulkWords(Dialect dialect) {
        this.dialect = dialect;
    }

    private record Line(String run, String table, String state, Map<String, String> words) {}

    private record RecordLine(String run, long place, String key, String reason) {
        boolean has(SoughtText sought) {
            return hasInKey(sought) || sought.isIn(reason);
        }

        /** The key is JSON, which spells some characters in its own way. */
        boolean hasInKey(SoughtText sought) {
            return Image.readList(key).stream().anyMatch(value -> value != null && sought.isIn(value.toString()));
        }
    }

    @Override
    public Found look(Connection connection, SoughtText sought) throws SQLException {
        List<Mention> mentions = new ArrayList<>();
        List<UUID> open = new ArrayList<>();
        Map<String, Line> byRun = new HashMap<>();
        for (Line line : lines(connection)) {
            byRun.put(line.run(), line);
            List<String> places = line.words().entrySet().stream()
                    .filter(word -> sought.isIn(word.getValue()))
                    .map(Map.Entry::getKey)
                    .toList();
            if (!places.isEmpty()) {
                add(line, Optional.empty(), places, mentions, open);
            }
        }
        for (RecordLine line : recordLines(connection, line -> line.has(sought))) {
            List<String> places = new ArrayList<>();
            if (line.hasInKey(sought)) {
                places.add("key");
            }
            if (sought.isIn(line.reason())) {
                places.add("reason");
            }
            if (byRun.containsKey(line.run())) {
                add(byRun.get(line.run()), Optional.of(text(line.key())), places, mentions, open);
            }
        }
        return new Found(mentions, open);
    }

    @Override
    public Found list(Connection connection, BiPredicate<String, String> records) throws SQLException {
        List<Mention> mentions = new ArrayList<>();
        List<UUID> open = new ArrayList<>();
        Map<String, Line> byRun = byRun(connection);
        for (RecordLine line : recordLines(connection, line -> isOf(byRun, line, records))) {
            add(byRun.get(line.run()), Optional.of(text(line.key())), List.of("key"), mentions, open);
        }
        return new Found(mentions, open);
    }

    private Map<String, Line> byRun(Connection connection) throws SQLException {
        Map<String, Line> byRun = new HashMap<>();
        lines(connection).forEach(line -> byRun.put(line.run(), line));
        return byRun;
    }

    private static boolean isOf(Map<String, Line> byRun, RecordLine line, BiPredicate<String, String> records) {
        Line run = byRun.get(line.run());
        return run != null && records.test(run.table(), text(line.key()));
    }

    @Override
    public void remove(Connection connection, BiPredicate<String, String> records) throws SQLException {
        remove(connection, byRun(connection), records);
    }

    private void remove(Connection connection, Map<String, Line> byRun, BiPredicate<String, String> records)
            throws SQLException {
        for (RecordLine line : recordLines(connection, line -> isOf(byRun, line, records))) {
            update(
                    connection,
                    "delete from vacancy_bulk_record where run_id = ? and place = ?",
                    line.run(),
                    line.place());
        }
    }

    private static void add(
            Line line, Optional<String> key, List<String> places, List<Mention> mentions, List<UUID> open) {
        UUID run = UUID.fromString(line.run());
        mentions.add(new Mention(run, line.table(), key, places, false));
        boolean ended = isEnded(line);
        if (!ended && !open.contains(run)) {
            open.add(run);
        }
    }

    private static String text(String key) {
        return StateTables.text(Image.readList(key));
    }

    @Override
    public void mask(Connection connection, SoughtText sought) throws SQLException {
        for (Line line : lines(connection)) {
            if (line.words().values().stream().anyMatch(sought::isIn)) {
                List<String> left = new ArrayList<>();
                line.words().values().forEach(word -> left.add(word == null ? null : sought.maskedIn(word)));
                String conditions = left.remove(left.size() - 1);
                left.add(line.run());
                update(
                        connection,
                        "update vacancy_bulk_run set name = ?, selection = ?, actor = ?, reason = ? where run_id = ?",
                        left.toArray());
                if (!conditions.equals(line.words().get("conditions"))) {
                    // They have a form of their own, and of a run that has ended nobody reads them any more.
                    update(connection, "update vacancy_bulk_run set handed_over = '{}' where run_id = ?", line.run());
                }
            }
        }
        for (RecordLine line : recordLines(connection, line -> line.has(sought))) {
            update(
                    connection,
                    "update vacancy_bulk_record set record_key = ?, reason = ? where run_id = ? and place = ?",
                    Image.writeList(masked(Image.readList(line.key()), sought::maskedIn)),
                    line.reason() == null ? null : sought.maskedIn(line.reason()),
                    line.run(),
                    line.place());
        }
    }

    private static List<Object> masked(List<Object> key, UnaryOperator<String> mask) {
        List<Object> left = new ArrayList<>();
        key.forEach(value ->
                left.add(value == null || value instanceof ByteBuffer ? value : mask.apply(String.valueOf(value))));
        return left;
    }

    @Override
    public void erase(Connection connection, Collection<UUID> runs, BiPredicate<String, String> records)
            throws SQLException {
        Map<String, Line> ended = runs.isEmpty() ? new HashMap<>() : byRun(connection);
        ended.values().removeIf(run -> !isEnded(run) || !runs.contains(UUID.fromString(run.run())));
        for (Line run : ended.values()) {
            String name = run.words().get("name");
            update(
                    connection,
                    "update vacancy_bulk_run set name = ?, selection = ?, handed_over = '{}' where run_id = ?",
                    // Without a name of its own it is called by what it selects.
                    name.contains(run.words().get("selection")) ? ERASED : name,
                    ERASED,
                    run.run());
        }
        if (!ended.isEmpty()) {
            remove(connection, ended, records);
        }
    }

    private static void update(Connection connection, String sql, Object... values) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(sql)) {
            for (int i = 0; i < values.length; i++) {
                if (values[i] == null) {
                    statement.setNull(i + 1, Types.VARCHAR);
                } else {
                    statement.setObject(i + 1, values[i]);
                }
            }
            statement.executeUpdate();
        }
    }

    private static boolean isEnded(Line line) {
        return BulkState.valueOf(line.state().toUpperCase(Locale.ROOT)).isFinal();
    }

    private List<Line> lines(Connection connection) throws SQLException {
        List<Line> lines = new ArrayList<>();
        if (!dialect.hasTable(connection, "vacancy_bulk_record")) {
            return lines;
        }
        try (PreparedStatement query = connection.prepareStatement(
                        "select run_id, selected_table, state, name, selection, actor, reason,"
                                + " handed_over from vacancy_bulk_run order by started_at, run_id");
                ResultSet row = query.executeQuery()) {
            while (row.next()) {
                Map<String, String> words = new LinkedHashMap<>();
                words.put("name", row.getString(4));
                words.put("selection", row.getString(5));
                words.put("actor", row.getString(6));
                words.put("reason", row.getString(7));
                words.put("conditions", RunConditions.words(row.getString(8)));
                lines.add(new Line(row.getString(1), row.getString(2), row.getString(3), words));
            }
        }
        return lines;
    }

    private List<RecordLine> recordLines(Connection connection, Predicate<RecordLine> wanted) throws SQLException {
        List<RecordLine> lines = new ArrayList<>();
        if (!dialect.hasTable(connection, "vacancy_bulk_record")) {
            return lines;
        }
        try (PreparedStatement query =
                connection.prepareStatement("select run_id, place, record_key, reason from vacancy_bulk_record")) {
            query.setFetchSize(FETCHED);
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    RecordLine line =
                            new RecordLine(row.getString(1), row.getLong(2), row.getString(3), row.getString(4));
                    if (wanted.test(line)) {
                        lines.add(line);
                    }
                }
            }
        }
        return lines;
    }
}
