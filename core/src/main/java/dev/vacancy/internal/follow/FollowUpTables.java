package dev.vacancy.internal.follow;

import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.followup.FollowUpAction;
import dev.vacancy.followup.FollowUpMessage;
import dev.vacancy.followup.FollowUpState;
import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.tables.OwnTable;
import dev.vacancy.internal.tables.OwnTables;
import dev.vacancy.internal.trail.Image;
import dev.vacancy.internal.trail.ReadableImage;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;
import java.util.function.BiPredicate;

/** The two tables of what follows runs, in SQL that all databases share. Times are text as in ISO 8601, UTC, all of one length. */
public final class FollowUpTables {
    /** Both. */
    public static final List<OwnTable> ALL = List.of(OwnTables.FOLLOW_UP, OwnTables.FOLLOW_UP_PLACE);

    private static final int LONGEST_FAILURE = 1_000;
    private static final String EARLIER = "e.place < f.place or e.place = f.place and (e.step < f.step"
            + " or e.step = f.step and e.entry < f.entry)";

    private final Dialect dialect;
    private final ReadableImage readable;

    /**
     * Prepares to read and write.
     *
     * @param dialect the dialect of the database
     * @param catalog what is there
     */
    public FollowUpTables(Dialect dialect, Catalog catalog) {
        this.dialect = dialect;
        this.readable = new ReadableImage(catalog);
    }

    /**
     * Says what begins a follow-up where the trail ends.
     *
     * @param name its name
     * @param runs the table of the trail's runs, as statements name it
     * @return an insertion
     */
    public static String beginning(String name, String runs) {
        return "insert into vacancy_follow_up_place (follow_up, place, step, entry) select '" + name
                + "', coalesce(max(place), 0), 0, 0 from " + runs;
    }

    /**
     * Lists the follow-ups that have begun.
     *
     * @param connection an open connection
     * @return their names
     * @throws SQLException when the tables aren't there
     */
    public static List<String> begun(Connection connection) throws SQLException {
        List<String> names = new ArrayList<>();
        try (PreparedStatement query = connection.prepareStatement("select follow_up from vacancy_follow_up_place");
                ResultSet row = query.executeQuery()) {
            while (row.next()) {
                names.add(row.getString(1));
            }
        }
        return names;
    }

    /** Takes the lock that has to be there before anything is read, where the database has one for all writing. */
    void beginWriting(Connection connection) throws SQLException {
        Optional<Fragment> first = dialect.beginWriting("vacancy_follow_up_place", "place");
        if (first.isPresent()) {
            try (PreparedStatement statement = first.get().prepare(connection)) {
                statement.executeUpdate();
            }
        }
    }

    /** Waits for whoever is reading the trail for the same follow-up. */
    Position lockPosition(Connection connection, String name) throws SQLException {
        beginWriting(connection);
        Fragment place =
                Fragment.of("select place, step, entry from vacancy_follow_up_place where follow_up = '" + name + "'");
        try (PreparedStatement query = dialect.locking(place).prepare(connection);
                ResultSet row = query.executeQuery()) {
            if (!row.next()) {
                throw new InvalidRequestException(
                        FailureCode.NO_TRAIL,
                        "The follow-up '" + name + "' hasn't begun in this database.",
                        "Begin it: Ddl.of(dataSource, rules).apply(), or 'vacancy ddl --apply'.");
            }
            return new Position(row.getLong(1), row.getInt(2), row.getLong(3));
        }
    }

    void save(Connection connection, String name, Position position) throws SQLException {
        update(
                connection,
                "update vacancy_follow_up_place set place = ?, step = ?, entry = ? where follow_up = ?",
                position.place(),
                position.step(),
                position.entry(),
                name);
    }

    void insert(Connection connection, List<Pending> messages) throws SQLException {
        if (messages.isEmpty()) {
            return;
        }
        List<String> columns = OwnTables.FOLLOW_UP.names().stream()
                .filter(name -> !name.equals("failure"))
                .toList();
        try (PreparedStatement insert = connection.prepareStatement(OwnTables.FOLLOW_UP.insertion(dialect, columns))) {
            for (Pending message : messages) {
                int column = 0;
                insert.setString(++column, message.id().toString());
                insert.setString(++column, message.followUp());
                insert.setLong(++column, message.place());
                insert.setInt(++column, message.entry().step());
                insert.setLong(++column, message.entry().place());
                insert.setString(++column, message.action().toString());
                insert.setString(++column, message.entry().table());
                insert.setString(++column, message.entry().key());
                insert.setString(++column, message.recordDigest());
                insert.setString(++column, message.beforeText());
                insert.setString(++column, message.afterText());
                insert.setString(++column, message.run().facts().runId().toString());
                insert.setString(++column, message.run().facts().actor());
                insert.setString(++column, message.run().facts().reason().orElse(null));
                insert.setString(++column, message.run().facts().at());
                insert.setString(++column, FollowUpState.OPEN.toString());
                insert.setInt(++column, 0);
                insert.setString(++column, message.run().facts().at());
                insert.addBatch();
            }
            insert.executeBatch();
        }
    }

    /** The first of each record that is due, the oldest first. */
    List<FollowUpMessage> due(Connection connection, String name, Instant now, int most) throws SQLException {
        return read(
                connection,
                " where f.follow_up = ? and f.state = 'open' and f.due_at <= ? and not exists (select 1 from"
                        + " vacancy_follow_up e where e.record_digest = f.record_digest and (" + EARLIER + "))"
                        + " order by f.place, f.step, f.entry limit " + most,
                name,
                TrailTables.text(now));
    }

    /**
     * Takes messages until some time, but for those that somebody else has taken or given up meanwhile.
     *
     * @return those that were taken
     */
    List<FollowUpMessage> claim(Connection connection, List<FollowUpMessage> due, Instant now, Instant until)
            throws SQLException {
        List<UUID> ids = due.stream().map(FollowUpMessage::id).toList();
        Fragment these = among(ids);
        Fragment taken = Fragment.of(
                        "update vacancy_follow_up set due_at = ?, attempts = attempts + 1 where state = 'open' and due_at <= ? and ",
                        Binding.of(TrailTables.text(until)),
                        Binding.of(TrailTables.text(now)))
                .then(these);
        int count;
        try (PreparedStatement update = taken.prepare(connection)) {
            count = update.executeUpdate();
        }
        if (count == due.size()) {
            return due;
        }
        // Whoever takes messages has locked the place of their follow-up, so that no two have the same until then.
        Set<UUID> held = new HashSet<>();
        Fragment query = Fragment.of(
                        "select message_id from vacancy_follow_up where due_at = ? and ",
                        Binding.of(TrailTables.text(until)))
                .then(these);
        try (PreparedStatement select = query.prepare(connection);
                ResultSet row = select.executeQuery()) {
            while (row.next()) {
                held.add(UUID.fromString(row.getString(1)));
            }
        }
        return due.stream().filter(message -> held.contains(message.id())).toList();
    }

    private static Fragment among(List<UUID> ids) {
        return Fragment.join(
                        ", ",
                        ids.stream()
                                .map(id -> Fragment.of("?", Binding.of(id.toString())))
                                .toList())
                .between("message_id in (", ")");
    }

    /** Returns how many of them there were. */
    int remove(Connection connection, List<UUID> ids) throws SQLException {
        Fragment deletion = Fragment.of("delete from vacancy_follow_up where ").then(among(ids));
        try (PreparedStatement delete = deletion.prepare(connection)) {
            return delete.executeUpdate();
        }
    }

    void fail(Connection connection, UUID id, FollowUpState state, Instant due, String failure) throws SQLException {
        update(
                connection,
                "update vacancy_follow_up set state = ?, due_at = ?, failure = ? where message_id = ?",
                state.toString(),
                TrailTables.text(due),
                failure.length() <= LONGEST_FAILURE ? failure : failure.substring(0, LONGEST_FAILURE - 1) + "…",
                id.toString());
    }

    /** Gives a message back that was taken and not handed over. */
    void release(Connection connection, UUID id, Instant due) throws SQLException {
        update(
                connection,
                "update vacancy_follow_up set due_at = ?, attempts = attempts - 1 where message_id = ?",
                TrailTables.text(due),
                id.toString());
    }

    boolean again(Connection connection, UUID id, Instant now) throws SQLException {
        return update(
                        connection,
                        "update vacancy_follow_up set state = 'open', attempts = 0, due_at = ? where message_id = ?",
                        TrailTables.text(now),
                        id.toString())
                > 0;
    }

    List<FollowUpMessage> list(Connection connection, int most) throws SQLException {
        return read(connection, " order by f.state, f.place, f.step, f.entry, f.follow_up limit " + most);
    }

    Optional<FollowUpMessage> find(Connection connection, UUID id) throws SQLException {
        return read(connection, " where f.message_id = ?", id.toString()).stream()
                .findFirst();
    }

    /**
     * Counts the messages of some records that nobody has handled yet, as far as they were taken down.
     *
     * @param connection an open connection
     * @param dialect the dialect of the database
     * @param records tells whether a table and a key, as text, are of such a record
     * @return how many, by table and name of the follow-up
     * @throws SQLException when the database doesn't answer
     */
    public static Map<List<String>, Long> waiting(
            Connection connection, Dialect dialect, BiPredicate<String, String> records) throws SQLException {
        Map<List<String>, Long> waiting = new TreeMap<>(Comparator.comparing(List::toString));
        if (!dialect.hasTable(connection, OwnTables.FOLLOW_UP.name())) {
            return waiting;
        }
        try (PreparedStatement query =
                        connection.prepareStatement("select table_name, follow_up, record_key from vacancy_follow_up");
                ResultSet row = query.executeQuery()) {
            while (row.next()) {
                if (row.getString(3) != null && records.test(row.getString(1), row.getString(3))) {
                    waiting.merge(List.of(row.getString(1), row.getString(2)), 1L, Long::sum);
                }
            }
        }
        return waiting;
    }

    long count(Connection connection, FollowUpState state) throws SQLException {
        try (PreparedStatement query =
                connection.prepareStatement("select count(*) from vacancy_follow_up where state = ?")) {
            query.setString(1, state.toString());
            try (ResultSet row = query.executeQuery()) {
                row.next();
                return row.getLong(1);
            }
        }
    }

    private List<FollowUpMessage> read(Connection connection, String where, Object... values) throws SQLException {
        List<FollowUpMessage> messages = new ArrayList<>();
        try (PreparedStatement query =
                connection.prepareStatement(OwnTables.FOLLOW_UP.selection(dialect) + " f" + where)) {
            for (int i = 0; i < values.length; i++) {
                query.setObject(i + 1, values[i]);
            }
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    messages.add(message(row));
                }
            }
        }
        return messages;
    }

    private FollowUpMessage message(ResultSet row) throws SQLException {
        String table = row.getString("table_name");
        return new FollowUpMessage(
                UUID.fromString(row.getString("message_id")),
                row.getString("follow_up"),
                FollowUpAction.valueOf(row.getString("action").toUpperCase(Locale.ROOT)),
                table,
                Optional.ofNullable(row.getString("record_key")),
                values(table, row.getString("values_before")),
                values(table, row.getString("values_after")),
                UUID.fromString(row.getString("run_id")),
                By.user(row.getString("actor")).because(row.getString("reason")),
                Instant.parse(row.getString("happened_at")),
                FollowUpState.valueOf(row.getString("state").toUpperCase(Locale.ROOT)),
                row.getInt("attempts"),
                Instant.parse(row.getString("due_at")),
                Optional.ofNullable(row.getString("failure")));
    }

    private Optional<Map<String, Object>> values(String table, String image) {
        return Optional.ofNullable(image).map(text -> readable.typed(table, Image.read(text)));
    }

    private static int update(Connection connection, String sql, Object... values) throws SQLException {
        try (PreparedStatement update = connection.prepareStatement(sql)) {
            for (int i = 0; i < values.length; i++) {
                update.setObject(i + 1, values[i]);
            }
            return update.executeUpdate();
        }
    }
}
