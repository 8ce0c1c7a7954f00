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
import java.sql.Types;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Collections;
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
    static final String VERSION = "trail 3";

    static final String NOTHING = "0".repeat(64);

    /** What the names of tables of an earlier version end in until all is taken over. */
    private static final String SET_ASIDE = "_old";

    private static final DateTimeFormatter TIME =
            DateTimeFormatter.ofPattern("uuuu-MM-dd'T'HH:mm:ss.SSSSSS'Z'").withZone(ZoneOffset.UTC);
    private static final List<String> COLUMNS = List.of(
            "place",
            "run_no",
            "run_id",
            "kind",
            "actor",
            "colleague",
            "reason",
            "happened_at",
            "table_name",
            "selection",
            "rules",
            "counts",
            "part_of",
            "about",
            "entries",
            "entries_digest",
            "previous_digest",
            "digest",
            "selection_salt",
            "selection_digest",
            "erased_by");

    /** The first row, in the order of the columns: the lock of all who write a run down, and the version of the tables. */
    private static final List<String> BEGINNING = List.of(
            "0",
            "0",
            "'beginning'",
            "'" + VERSION + "'",
            "'vacancy'",
            "null",
            "null",
            "'1970-01-01T00:00:00.000000Z'",
            "''",
            "''",
            "''",
            "'{}'",
            "null",
            "null",
            "0",
            "'" + NOTHING + "'",
            "'" + NOTHING + "'",
            "'" + NOTHING + "'",
            "null",
            "'" + NOTHING + "'",
            "null");

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

    /**
     * Returns what makes the tables.
     *
     * @return statements in their order
     */
    public List<String> ddl() {
        List<String> all = new ArrayList<>(ddlWithoutBeginning());
        all.add(beginning());
        return all;
    }

    /** The first row, without which the tables are as if they weren't there. */
    String beginning() {
        return "insert into " + runs() + " (" + String.join(", ", COLUMNS) + ") values (" + String.join(", ", BEGINNING)
                + ")";
    }

    /**
     * Returns what makes the tables, which can't be used yet.
     *
     * @return statements in their order
     */
    private List<String> ddlWithoutBeginning() {
        String text = dialect.longText();
        String bytes = dialect.bytesType();
        return List.of(
                "create table " + runs() + " (place bigint not null primary key, run_no bigint not null unique,"
                        + " run_id varchar(36) not null unique, kind varchar(20) not null, actor varchar(200) not null,"
                        + " colleague varchar(200), reason varchar(1000), happened_at varchar(30) not null,"
                        + " table_name varchar(200) not null, selection " + text + " not null,"
                        + " rules varchar(64) not null, counts " + text + " not null, part_of varchar(36),"
                        + " about varchar(36), entries bigint not null, entries_digest varchar(64) not null,"
                        + " previous_digest varchar(64) not null, digest varchar(64) not null,"
                        + " selection_salt varchar(36), selection_digest varchar(64) not null, erased_by bigint)"
                        + dialect.tableOptions(),
                "create table " + entries()
                        + " (run_no bigint not null, step integer not null, place bigint not null,"
                        + " action varchar(12) not null, table_name varchar(200) not null, record_key "
                        + dialect.keyTextType() + ", content " + text + ", altered " + text + ", about_run bigint,"
                        + " about_step integer, about_place bigint, erased_by bigint, seal " + bytes + " not null,"
                        + " digest " + bytes + " not null, primary key (run_no, step, place))" + dialect.tableOptions(),
                dialect.keyIndex(trail.entries() + "_key", entries(), "table_name", "record_key"),
                "create index " + trail.runs() + "_whole on " + runs() + " (part_of)",
                "create index " + trail.runs() + "_undone on " + runs() + " (about)");
    }

    /** Tells whether the first row still is as it was made. */
    boolean hasBeginning(Connection connection) throws SQLException {
        List<String> conditions = new ArrayList<>();
        for (int i = 0; i < COLUMNS.size(); i++) {
            String value = BEGINNING.get(i);
            conditions.add(COLUMNS.get(i) + (value.equals("null") ? " is null" : " = " + value));
        }
        String sql = "select 1 from " + runs() + " where " + String.join(" and ", conditions);
        try (PreparedStatement query = connection.prepareStatement(sql);
                ResultSet row = query.executeQuery()) {
            return row.next();
        }
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
                    "Take them over by Ddl.apply(), or 'vacancy ddl --apply'; or use the release of Vacancy that made them.");
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

    /**
     * Tells whether what an earlier version has written is still to be taken over.
     *
     * @param connection an open connection
     * @return true if its tables are there, under their own names or set aside
     * @throws SQLException when the database doesn't answer
     */
    public boolean areOld(Connection connection) throws SQLException {
        return hasTable(connection, trail.runs() + SET_ASIDE)
                || version(connection).equals(Optional.of(Version2.VERSION));
    }

    /**
     * Tells whether the tables are there and of this version.
     *
     * @param connection an open connection
     * @return true if they can be used
     * @throws SQLException when the database doesn't answer
     */
    public boolean areCurrent(Connection connection) throws SQLException {
        return version(connection).equals(Optional.of(VERSION));
    }

    /**
     * Returns what sets the tables of an earlier version aside and makes those of this one.
     *
     * @param connection an open connection
     * @return statements in their order, as far as that isn't done yet
     * @throws SQLException when the database doesn't answer
     */
    public List<String> remaking(Connection connection) throws SQLException {
        List<String> statements = new ArrayList<>();
        for (String name : List.of(trail.entries(), trail.runs())) {
            if (!hasTable(connection, name + SET_ASIDE)) {
                statements.add(dialect.renaming(prefix(), name, name + SET_ASIDE));
            }
        }
        if (!statements.isEmpty() || !hasTable(connection, trail.entries())) {
            statements.addAll(ddlWithoutBeginning());
        }
        return statements;
    }

    /**
     * Returns a key as often as a condition on it has question marks.
     *
     * @param key the key
     * @return the same text, once or more
     */
    public List<String> bound(String key) {
        return Collections.nCopies(dialect.keysBound(), key);
    }

    String setAside(String name) {
        return prefix() + name + SET_ASIDE;
    }

    Trail trail() {
        return trail;
    }

    private boolean hasTable(Connection connection, String name) throws SQLException {
        return dialect.hasTable(connection, trail.schema(), name);
    }

    private Optional<String> version(Connection connection) throws SQLException {
        if (!hasTable(connection, trail.runs())) {
            return Optional.empty();
        }
        try (PreparedStatement query = connection.prepareStatement("select kind from " + runs() + " where place = 0");
                ResultSet row = query.executeQuery()) {
            return row.next() ? Optional.of(row.getString(1)) : Optional.empty();
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

    /**
     * Takes the words out of the selection of a run, as they may tell of a record.
     *
     * @param connection a connection in a transaction that writes
     * @param run the run
     * @param by the run that erases
     * @throws SQLException when the database refuses
     */
    public void eraseSelection(Connection connection, StoredRun run, UUID by) throws SQLException {
        try (PreparedStatement update = connection.prepareStatement("update " + runs()
                + " set selection = ?, selection_salt = null, erased_by = ? where place = ? and erased_by is null")) {
            update.setString(1, StoredRun.ERASED);
            update.setLong(2, Reference.number(by));
            update.setLong(3, run.place());
            update.executeUpdate();
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
        String marks = String.join(", ", Collections.nCopies(COLUMNS.size(), "?"));
        String sql = "insert into " + runs() + " (" + String.join(", ", COLUMNS) + ") values (" + marks + ")";
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
        return "select " + String.join(", ", COLUMNS) + " from " + runs() + " where place > 0 and " + where;
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
        long place = 0;
        try (PreparedStatement query = connection.prepareStatement("select max(place) from " + runs());
                ResultSet row = query.executeQuery()) {
            if (row.next()) {
                place = row.getLong(1);
            }
        }
        return new HoldsInForce(holds(connection), place);
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
