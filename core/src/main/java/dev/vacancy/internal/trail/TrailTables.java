package dev.vacancy.internal.trail;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.tables.OwnTable;
import dev.vacancy.internal.tables.OwnTables;
import dev.vacancy.rule.Trail;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/**
 * The two tables of the audit trail. Times are text as in ISO 8601, UTC, all of one length, so that they are in order.
 *
 * @since 0.1
 */
public final class TrailTables {
    /** The digest of what stands before all runs. */
    public static final String NOTHING = "0".repeat(64);

    private static final DateTimeFormatter TIME =
            DateTimeFormatter.ofPattern("uuuu-MM-dd'T'HH:mm:ss.SSSSSS'Z'").withZone(ZoneOffset.UTC);
    static final List<String> COLUMNS =
            OwnTables.trailRuns(Optional.empty(), "").names();

    private final Trail trail;
    private final Dialect dialect;
    private final OwnTable runs;
    private final OwnTable entries;

    /**
     * Names the tables of a trail.
     *
     * @param trail where it is kept
     * @param dialect the dialect of the database
     * @throws InvalidRequestException when a name is none
     */
    public TrailTables(Trail trail, Dialect dialect) {
        this.trail = trail;
        this.dialect = dialect;
        this.runs = OwnTables.trailRuns(trail.schema(), trail.runs());
        this.entries = OwnTables.trailEntries(trail.schema(), trail.entries());
        for (String name : List.of(trail.runs(), trail.entries())) {
            if (!name.matches("[A-Za-z_][A-Za-z0-9_]{0,50}")) {
                throw new InvalidRequestException(
                        FailureCode.RULES,
                        "'" + name + "' can't be the name of a table of the audit trail.",
                        "Use letters, digits and underscores.");
            }
        }
    }

    /** The table of runs, as statements name it. */
    String runs() {
        return runs.in(dialect);
    }

    /** The table of entries, as statements name it. */
    String entries() {
        return entries.in(dialect);
    }

    OwnTable runTable() {
        return runs;
    }

    OwnTable entryTable() {
        return entries;
    }

    /**
     * Returns the table of entries, as statements name it.
     *
     * @return its name
     */
    public String entriesName() {
        return entries();
    }

    /**
     * Takes the lock that has to be there before anything is read, where the database has one for all writing.
     *
     * @param connection a connection in a transaction that writes
     * @throws SQLException when the database refuses
     */
    public void beginWriting(Connection connection) throws SQLException {
        Optional<Fragment> first = dialect.beginWriting(runs(), "place");
        if (first.isPresent()) {
            try (PreparedStatement statement = first.get().prepare(connection)) {
                statement.executeUpdate();
            }
        }
    }

    String prefix() {
        return trail.schema().map(name -> dialect.schemaName(name) + ".").orElse("");
    }

    /**
     * Returns the dialect that the trail is written in.
     *
     * @return the dialect of its database
     */
    public Dialect dialect() {
        return dialect;
    }

    /**
     * Tells whether a table is one of the trail's own.
     *
     * @param storedName a table's name as stored
     * @return true if it is
     */
    public boolean isOwn(String storedName) {
        return storedName.equalsIgnoreCase(trail.runs()) || storedName.equalsIgnoreCase(trail.entries());
    }

    Trail trail() {
        return trail;
    }

    /**
     * Says a time as the trail has it.
     *
     * @param time the time
     * @return such as {@code 2026-03-01T02:00:00.000000Z}
     */
    public static String text(Instant time) {
        return TIME.format(time);
    }

    /**
     * Writes what a masking or an erasure has left of a run.
     *
     * @param connection a connection in a transaction that writes
     * @param left the run without what goes
     * @throws SQLException when the database refuses
     */
    public void replaceWords(Connection connection, StoredRun left) throws SQLException {
        RunFacts facts = left.facts();
        try (PreparedStatement update = connection.prepareStatement("update " + runs()
                + " set actor = ?, colleague = ?, reason = ?, selection = ?, selection_salt = ?, erased_by = ?"
                + " where place = ?")) {
            update.setString(1, facts.actor());
            update.setString(2, facts.colleague().orElse(null));
            update.setString(3, facts.reason().orElse(null));
            update.setString(4, facts.selection());
            update.setString(5, left.words().salt());
            update.setLong(6, left.words().erasedBy());
            update.setLong(7, left.place());
            update.executeUpdate();
        }
    }

    void remove(Connection connection, long place) throws SQLException {
        try (PreparedStatement delete = connection.prepareStatement("delete from " + runs() + " where place = ?")) {
            delete.setLong(1, place);
            delete.executeUpdate();
        }
    }

    void insert(Connection connection, StoredRun run) throws SQLException {
        RunFacts facts = run.facts();
        List<Object> values = new ArrayList<>();
        values.add(run.place());
        values.add(run.number());
        values.add(facts.runId().toString());
        values.add(facts.kind().word());
        values.add(facts.actor());
        values.add(facts.colleague().orElse(null));
        values.add(facts.reason().orElse(null));
        values.add(facts.at());
        values.add(facts.table());
        values.add(facts.selection());
        values.add(facts.rules());
        values.add(RunFacts.text(facts.counts()));
        values.add(facts.partOf().map(UUID::toString).orElse(null));
        values.add(facts.about().map(UUID::toString).orElse(null));
        values.add(run.entries());
        values.add(run.entriesDigest());
        values.add(run.previous());
        values.add(run.digest());
        values.add(run.words().salt());
        values.add(run.words().digest());
        values.add(run.words().erasedBy());
        String sql = runs.insertion(dialect, COLUMNS);
        try (PreparedStatement insert = connection.prepareStatement(sql)) {
            for (int i = 0; i < values.size(); i++) {
                if (values.get(i) == null) {
                    insert.setNull(i + 1, COLUMNS.get(i).equals("erased_by") ? Types.BIGINT : Types.VARCHAR);
                } else {
                    insert.setObject(i + 1, values.get(i));
                }
            }
            insert.executeUpdate();
        }
    }

    /**
     * Reads runs.
     *
     * @param connection an open connection
     * @param where what stands behind WHERE, on columns of the table, and ORDER BY if need be
     * @param values one for each question mark
     * @return the runs
     * @throws SQLException when the database doesn't answer
     */
    public List<StoredRun> runs(Connection connection, String where, Object... values) throws SQLException {
        return runs(connection, Fragment.of(selecting(where)), values);
    }

    /** Reads the runs behind a place, and locks them. */
    List<StoredRun> runsToWriteAfter(Connection connection, long place) throws SQLException {
        return runs(connection, dialect.locking(Fragment.of(selecting("place > ? order by place"))), place);
    }

    private String selecting(String where) {
        return runs.selection(dialect) + " where place > 0 and " + where;
    }

    private static List<StoredRun> runs(Connection connection, Fragment select, Object... values) throws SQLException {
        List<StoredRun> runs = new ArrayList<>();
        try (PreparedStatement query = connection.prepareStatement(select.sql())) {
            for (int i = 0; i < values.length; i++) {
                query.setObject(i + 1, values[i]);
            }
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    runs.add(run(row));
                }
            }
        }
        return runs;
    }

    /**
     * Names the tables that runs are about.
     *
     * @param connection an open connection
     * @return their names, each once
     * @throws SQLException when the database doesn't answer
     */
    public List<String> tablesOfRuns(Connection connection) throws SQLException {
        List<String> names = new ArrayList<>();
        try (PreparedStatement query = connection.prepareStatement("select distinct table_name from " + runs());
                ResultSet row = query.executeQuery()) {
            while (row.next()) {
                names.add(row.getString(1));
            }
        }
        return names;
    }

    private static StoredRun run(ResultSet row) throws SQLException {
        Map<String, Long> counts = new LinkedHashMap<>();
        Image.read(row.getString("counts")).forEach((table, count) -> counts.put(table, ((Number) count).longValue()));
        RunFacts facts = new RunFacts(
                uuid(row.getString("run_id")),
                RunKind.of(row.getString("kind")),
                row.getString("actor"),
                Optional.ofNullable(row.getString("colleague")),
                Optional.ofNullable(row.getString("reason")),
                row.getString("happened_at"),
                row.getString("table_name"),
                row.getString("selection"),
                row.getString("rules"),
                counts(row.getString("counts")),
                Optional.ofNullable(row.getString("part_of")).map(TrailTables::uuid),
                Optional.ofNullable(row.getString("about")).map(TrailTables::uuid));
        long erasedBy = row.getLong("erased_by");
        Long eraser = row.wasNull() ? null : erasedBy;
        return new StoredRun(
                row.getLong("place"),
                row.getLong("run_no"),
                facts,
                row.getLong("entries"),
                row.getString("entries_digest"),
                row.getString("previous_digest"),
                row.getString("digest"),
                new StoredRun.Words(row.getString("selection_salt"), row.getString("selection_digest"), eraser));
    }

    /** Other spellings of the same would be told by no digest. */
    private static UUID uuid(String text) {
        UUID read = UUID.fromString(text);
        requireSame(read.toString(), text);
        return read;
    }

    private static Map<String, Long> counts(String text) {
        Map<String, Long> counts = RunFacts.counts(text);
        requireSame(RunFacts.text(counts), text);
        return counts;
    }

    private static void requireSame(String written, String read) {
        if (!written.equals(read)) {
            throw new IllegalArgumentException("The trail was written by somebody else: '" + read + "'.");
        }
    }

    /**
     * Reads the run that entries name by a number.
     *
     * @param connection an open connection
     * @param number the number
     * @return the run; empty if it isn't there any more
     * @throws SQLException when the database doesn't answer
     */
    public Optional<StoredRun> run(Connection connection, long number) throws SQLException {
        return runs(connection, "run_no = ?", number).stream().findFirst();
    }

    /**
     * Reads the holds that nobody has lifted, and how far the trail had come.
     *
     * @param connection an open connection
     * @return what holds
     * @throws SQLException when the database doesn't answer
     */
    public HoldsInForce holdsInForce(Connection connection) throws SQLException {
        long place = lastPlace(connection);
        return new HoldsInForce(holds(connection), place);
    }

    /**
     * Tells how far the trail has come.
     *
     * @param connection an open connection
     * @return the place of the last run, or 0
     * @throws SQLException when the database doesn't answer
     */
    public long lastPlace(Connection connection) throws SQLException {
        try (PreparedStatement query = connection.prepareStatement("select max(place) from " + runs());
                ResultSet row = query.executeQuery()) {
            return row.next() ? row.getLong(1) : 0;
        }
    }

    /**
     * Returns the table of runs, as statements name it.
     *
     * @return its name
     */
    public String runsName() {
        return runs();
    }

    /**
     * Reads the holds that nobody has lifted.
     *
     * @param connection an open connection
     * @return them, the oldest first; the selection of each is the text of its criteria
     * @throws SQLException when the database doesn't answer
     */
    public List<StoredRun> holds(Connection connection) throws SQLException {
        return runs(
                connection,
                "kind in ('hold', 'standing hold') and run_id not in (select l.about from " + runs()
                        + " l where l.kind = 'lift' and l.about is not null) order by place");
    }
}
