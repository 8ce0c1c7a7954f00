package dev.vacancy.internal.trail;

import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.rule.Trail;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
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
    /** What the first row of the table of runs says; a later version of the tables says another. */
    static final String VERSION = "trail 2";

    static final String NOTHING = "0".repeat(64);

    /** What stands where the words of a selection were. */
    static final String ERASED = "(erased)";

    private static final DateTimeFormatter TIME =
            DateTimeFormatter.ofPattern("uuuu-MM-dd'T'HH:mm:ss.SSSSSS'Z'").withZone(ZoneOffset.UTC);
    private static final int LONGEST_REASON = 1_000;
    private static final String COLUMNS =
            "place, run_id, kind, actor, reason, happened_at, table_name, selection, rules,"
                    + " counts, part_of, about, entries, entries_digest, previous_digest, digest, selection_salt, selection_digest, erased_by";

    private final Trail trail;
    private final Dialect dialect;

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
        return prefix() + trail.runs();
    }

    /** The table of entries, as statements name it. */
    String entries() {
        return prefix() + trail.entries();
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

    private String prefix() {
        return trail.schema().map(name -> dialect.quote(name) + ".").orElse("");
    }

    Dialect dialect() {
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

    /**
     * Returns what makes the tables.
     *
     * @return statements in their order
     */
    public List<String> ddl() {
        String text = dialect.longText();
        return List.of(
                "create table " + runs() + " (place bigint not null primary key, run_id varchar(36) not null unique,"
                        + " kind varchar(12) not null, actor varchar(200) not null, reason varchar(1000),"
                        + " happened_at varchar(30) not null, table_name varchar(200) not null, selection " + text
                        + " not null, rules varchar(64) not null, counts " + text + " not null, part_of varchar(36),"
                        + " about varchar(36), entries bigint not null, entries_digest varchar(64) not null,"
                        + " previous_digest varchar(64) not null, digest varchar(64) not null,"
                        + " selection_salt varchar(36), selection_digest varchar(64) not null, erased_by varchar(36))"
                        + dialect.tableOptions(),
                "create table " + entries()
                        + " (run_id varchar(36) not null, step integer not null, place bigint not null,"
                        + " action varchar(12) not null, table_name varchar(200) not null, record_key varchar(500) not null,"
                        + " content " + text + ", altered " + text + ", salt varchar(36), erased_by varchar(36),"
                        + " content_digest varchar(64) not null, digest varchar(64) not null,"
                        + " primary key (run_id, step, place))" + dialect.tableOptions(),
                "create index " + trail.entries() + "_record on " + entries() + " (table_name, record_key)",
                "create index " + trail.runs() + "_part on " + runs() + " (part_of)",
                "create index " + trail.runs() + "_about on " + runs() + " (about)",
                "insert into " + runs()
                        + " (place, run_id, kind, actor, happened_at, table_name, selection, rules, counts,"
                        + " entries, entries_digest, previous_digest, digest, selection_digest) values (0, 'beginning', '"
                        + VERSION + "', 'vacancy', '1970-01-01T00:00:00.000000Z', '', '', '', '{}', 0, '" + NOTHING
                        + "', '" + NOTHING + "', '" + NOTHING + "', '" + NOTHING + "')");
    }

    /**
     * Sees to it that the tables are there and of this version.
     *
     * @param connection an open connection
     * @throws InvalidRequestException when they aren't
     * @throws SQLException when the database doesn't answer
     */
    public void require(Connection connection) throws SQLException {
        Optional<String> version = version(connection);
        if (version.isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.NO_STATE_TABLES,
                    "The tables of the audit trail are missing: " + trail.runs() + " and " + trail.entries() + ".",
                    "Make them by the statements of ddl(), or 'vacancy ddl --apply'; or leave the trail out of the rules.");
        }
        if (!version.get().equals(VERSION)) {
            throw new InvalidRequestException(
                    FailureCode.NO_STATE_TABLES,
                    "The tables of the audit trail are of another version: '" + version.get() + "' instead of '"
                            + VERSION + "'.",
                    "Use the release of Vacancy that made them, or give the trail of this one other names.");
        }
    }

    /**
     * Tells whether the tables are there.
     *
     * @param connection an open connection
     * @return true if they are, of whatever version
     * @throws SQLException when the database doesn't answer
     */
    public boolean areThere(Connection connection) throws SQLException {
        return version(connection).isPresent();
    }

    private Optional<String> version(Connection connection) throws SQLException {
        boolean there = trail.schema().isPresent() || dialect.hasTable(connection, trail.runs());
        if (!there) {
            return Optional.empty();
        }
        try (PreparedStatement query = connection.prepareStatement("select kind from " + runs() + " where place = 0");
                ResultSet row = query.executeQuery()) {
            return row.next() ? Optional.of(row.getString(1)) : Optional.empty();
        } catch (SQLException missing) {
            if (trail.schema().isPresent()) {
                return Optional.empty();
            }
            throw missing;
        }
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

    /** Cuts a reason to what the column holds, so that what is digested is what is stored. */
    static String cut(String reason) {
        return reason.length() <= LONGEST_REASON ? reason : reason.substring(0, LONGEST_REASON);
    }

    /**
     * A run as it stands in the trail.
     *
     * @param place its place in the chain, from 1
     * @param facts what it was
     * @param entries how many entries it has
     * @param entriesDigest the digest of their digests
     * @param previous the digest of the run before
     * @param digest its own
     * @param words how the words of its selection are digested
     */
    public record StoredRun(
            long place,
            RunFacts facts,
            long entries,
            String entriesDigest,
            String previous,
            String digest,
            Words words) {
        /** The digest that it must have. */
        String expected() {
            return Chain.sha256(String.join(
                    "\n",
                    String.valueOf(place),
                    previous,
                    facts.text(words.digest()),
                    String.valueOf(entries),
                    entriesDigest));
        }

        /** Whether the words of the selection are those that were digested, as far as they are still there. */
        boolean isSelectionIntact() {
            return words.erasedBy() == null
                    ? words.equals(Words.of(words.salt(), facts.selection()))
                    : words.salt() == null && facts.selection().equals(ERASED);
        }
    }

    /**
     * The digest of words that may be erased: the chain holds without them, and nobody can guess them from it.
     *
     * @param salt what they were digested with; null once erased
     * @param digest their digest
     * @param erasedBy the run that erased them, or null
     */
    record Words(String salt, String digest, String erasedBy) {
        static Words of(String salt, String words) {
            return new Words(salt, Chain.sha256(salt + "\n" + words), null);
        }
    }

    /**
     * Takes the words out of the selections of the runs that have written down a record, as they may tell of it.
     *
     * @param connection a connection in a transaction that writes
     * @param table the record's table
     * @param key its key
     * @param by the run that erases
     * @throws SQLException when the database refuses
     */
    public void eraseSelections(Connection connection, String table, String key, UUID by) throws SQLException {
        try (PreparedStatement update = connection.prepareStatement("update " + runs()
                + " set selection = ?, selection_salt = null, erased_by = ? where kind in ('deletion', 'purge', 'restore')"
                + " and erased_by is null and table_name = ? and run_id in (select e.run_id from " + entries()
                + " e where e.table_name = ? and e.record_key = ?)")) {
            update.setString(1, ERASED);
            update.setString(2, by.toString());
            update.setString(3, table);
            update.setString(4, table);
            update.setString(5, key);
            update.executeUpdate();
        }
    }

    void insert(Connection connection, StoredRun run) throws SQLException {
        RunFacts facts = run.facts();
        String sql = "insert into " + runs() + " (" + COLUMNS
                + ") values (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)";
        try (PreparedStatement insert = connection.prepareStatement(sql)) {
            insert.setLong(1, run.place());
            insert.setString(2, facts.runId().toString());
            insert.setString(3, facts.kind());
            insert.setString(4, facts.actor());
            insert.setString(5, facts.reason().orElse(null));
            insert.setString(6, facts.at());
            insert.setString(7, facts.table());
            insert.setString(8, facts.selection());
            insert.setString(9, facts.rules());
            insert.setString(10, facts.countsText());
            insert.setString(11, facts.partOf().map(UUID::toString).orElse(null));
            insert.setString(12, facts.about().map(UUID::toString).orElse(null));
            insert.setLong(13, run.entries());
            insert.setString(14, run.entriesDigest());
            insert.setString(15, run.previous());
            insert.setString(16, run.digest());
            insert.setString(17, run.words().salt());
            insert.setString(18, run.words().digest());
            insert.setString(19, run.words().erasedBy());
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
        List<StoredRun> runs = new ArrayList<>();
        String sql = "select " + COLUMNS + " from " + runs() + " where place > 0 and " + where;
        try (PreparedStatement query = connection.prepareStatement(sql)) {
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
        Image.read(row.getString(10)).forEach((table, count) -> counts.put(table, ((Number) count).longValue()));
        RunFacts facts = new RunFacts(
                UUID.fromString(row.getString(2)),
                row.getString(3),
                row.getString(4),
                Optional.ofNullable(row.getString(5)),
                row.getString(6),
                row.getString(7),
                row.getString(8),
                row.getString(9),
                counts,
                Optional.ofNullable(row.getString(11)).map(UUID::fromString),
                Optional.ofNullable(row.getString(12)).map(UUID::fromString));
        return new StoredRun(
                row.getLong(1),
                facts,
                row.getLong(13),
                row.getString(14),
                row.getString(15),
                row.getString(16),
                new Words(row.getString(17), row.getString(18), row.getString(19)));
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
                "kind = 'hold' and run_id not in (select l.about from " + runs()
                        + " l where l.kind = 'lift' and l.about is not null) order by place");
    }
}
