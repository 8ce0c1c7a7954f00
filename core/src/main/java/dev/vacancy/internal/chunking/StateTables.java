package dev.vacancy.internal.chunking;

import dev.vacancy.By;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.FailedRecord;
import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Bytes;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.ServerNumber;
import dev.vacancy.internal.tables.OwnTables;
import dev.vacancy.internal.trail.Image;
import dev.vacancy.internal.trail.TrailKey;
import java.io.BufferedReader;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.UUID;

/** The two tables that hold the state of bulk runs, in SQL that all databases share. Times are text as in ISO 8601, UTC. */
final class StateTables {
    private static final List<String> WRITTEN_AT_START = List.of(
            "run_id",
            "name",
            "selected_table",
            "selection",
            "actor",
            "reason",
            "handed_over",
            "rules",
            "state",
            "records",
            "started_at",
            "worked_at",
            "done",
            "skipped",
            "failed",
            "deleted");
    private static final List<String> WRITTEN_OF_RECORD = List.of("run_id", "place", "record_key", "state", "attempts");

    private static final String RUNS =
            "select run_id, name, selected_table, selection, actor, reason, state, records, done,"
                    + " skipped, failed, deleted, started_at, ended_at, handed_over, worked_at from vacancy_bulk_run";
    private static final String RUNS_OF_SEVERAL_SERVERS =
            "select r.run_id, name, selected_table, selection, actor, reason, state, records, r.done + coalesce(s.done, 0),"
                    + " r.skipped + coalesce(s.skipped, 0), r.failed + coalesce(s.failed, 0),"
                    + " r.deleted + coalesce(s.deleted, 0), started_at, ended_at, handed_over,"
                    + " greatest(coalesce(r.worked_at, ''), coalesce(s.worked_at, '')) from vacancy_bulk_run r"
                    + " left join (select run_id, sum(done) as done, sum(skipped) as skipped, sum(failed) as failed,"
                    + " sum(deleted) as deleted, max(worked_at) as worked_at from vacancy_bulk_share group by run_id) s"
                    + " on s.run_id = r.run_id";
    private static final List<String> WRITTEN_OF_SHARE =
            List.of("run_id", "server", "done", "skipped", "failed", "deleted", "worked_at");
    /** Servers beyond that many share a line with another one, and wait for it now and then. */
    private static final int SHARES = 16;

    private static final String SET_STATE =
            "update vacancy_bulk_record set state = ?, reason = ? where run_id = ? and place = ?";
    private static final int LONGEST_REASON = 1_000;
    private static final int LONGEST_WORDS = 2_000;
    private static final int LONGEST_NAME = 400;
    private static final int BATCH = 1_000;

    private final Dialect dialect;
    private final Duration lockWait;
    private final Clock clock;

    StateTables(Dialect dialect, Duration lockWait, Clock clock) {
        this.dialect = dialect;
        this.lockWait = lockWait;
        this.clock = clock;
    }

    void insert(Connection connection, BulkRun run, RunConditions conditions) throws SQLException {
        update(
                connection,
                OwnTables.BULK_RUN.insertion(dialect, WRITTEN_AT_START),
                run.runId().toString(),
                cut(run.name(), LONGEST_NAME),
                run.table(),
                cut(run.selection(), LONGEST_WORDS),
                run.by().actor(),
                run.by().reason().map(reason -> cut(reason, LONGEST_REASON)).orElse(null),
                conditions.text(),
                conditions.standing().scope().rules(),
                run.state().toString(),
                run.records(),
                run.startedAt().toString(),
                run.workedAt().toString(),
                0L,
                0L,
                0L,
                0L);
        for (long server = 0; dialect.locksAreLocal() && server < SHARES; server++) {
            update(
                    connection,
                    OwnTables.BULK_SHARE.insertion(dialect, WRITTEN_OF_SHARE),
                    run.runId().toString(),
                    server,
                    0L,
                    0L,
                    0L,
                    0L,
                    run.workedAt().toString());
        }
    }

    /** Writes down the selected records; each line is a key. */
    void insertRecords(Connection connection, UUID run, BufferedReader keys) throws SQLException, IOException {
        try (PreparedStatement insert =
                connection.prepareStatement(OwnTables.BULK_RECORD.insertion(dialect, WRITTEN_OF_RECORD))) {
            long place = 0;
            for (String key = keys.readLine(); key != null; key = keys.readLine()) {
                insert.setString(1, run.toString());
                insert.setLong(2, ++place);
                insert.setString(3, key);
                insert.setString(4, "open");
                insert.setInt(5, 0);
                insert.addBatch();
                if (place % BATCH == 0) {
                    insert.executeBatch();
                }
            }
            insert.executeBatch();
        }
    }

    RunConditions conditions(Connection connection, UUID run) throws SQLException {
        try (PreparedStatement query =
                connection.prepareStatement("select handed_over, rules from vacancy_bulk_run where run_id = ?")) {
            query.setString(1, run.toString());
            try (ResultSet row = query.executeQuery()) {
                row.next();
                return RunConditions.read(row.getString(1), row.getString(2));
            }
        }
    }

    Optional<BulkRun> run(Connection connection, UUID run) throws SQLException {
        String where = dialect.locksAreLocal() ? " where r.run_id = ?" : " where run_id = ?";
        return runs(connection, selectingRuns() + where, run.toString()).stream()
                .findFirst();
    }

    List<BulkRun> list(Connection connection) throws SQLException {
        return runs(connection, selectingRuns() + " order by started_at desc, run_id");
    }

    List<BulkRun> list(Connection connection, BulkState state) throws SQLException {
        return runs(
                connection, selectingRuns() + " where state = ? order by started_at desc, run_id", state.toString());
    }

    private String selectingRuns() {
        return dialect.locksAreLocal() ? RUNS_OF_SEVERAL_SERVERS : RUNS;
    }

    /** Those that failed or were skipped, and while nobody works on the run those that were begun. */
    List<FailedRecord> left(Connection connection, BulkRun run, int most) throws SQLException {
        List<FailedRecord> left = new ArrayList<>();
        String begun = run.state() == BulkState.RUNNING ? "" : " or state = 'open' and begun is not null";
        try (PreparedStatement query = connection.prepareStatement(
                "select record_key, state, reason, begun from vacancy_bulk_record where run_id = ? and (state in ('failed',"
                        + " 'skipped')" + begun + ") order by place")) {
            query.setString(1, run.runId().toString());
            query.setMaxRows(most);
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    boolean open = row.getString(2).equals("open");
                    left.add(new FailedRecord(
                            text(Image.readList(row.getString(1))),
                            !row.getString(2).equals("skipped"),
                            Begun.of(row.getString(4))
                                    .before(Optional.ofNullable(row.getString(3))
                                            .filter(reason -> !open))));
                }
            }
        }
        return left;
    }

    static String text(List<Object> key) {
        return TrailKey.of(key.stream()
                .map(value -> value instanceof ByteBuffer bytes ? Bytes.hex(bytes) : String.valueOf(value))
                .toList());
    }

    /** Claims the next records of a run, where each server of several has a stretch of its own to begin with. */
    List<ClaimedRecord> claim(Connection connection, BulkRun run, int most) throws SQLException {
        Optional<ServerNumber> server = dialect.serverNumber(connection);
        if (server.isEmpty()) {
            return claim(connection, run.runId(), PlaceRange.all(most));
        }
        for (PlaceRange stretch : PlaceRange.of(run.records(), server.get(), most)) {
            List<ClaimedRecord> claimed = claim(connection, run.runId(), stretch);
            if (!claimed.isEmpty()) {
                return claimed;
            }
        }
        return List.of();
    }

    /** Claims the next records that nobody else has claimed, until the transaction ends. */
    List<ClaimedRecord> claim(Connection connection, UUID run, PlaceRange places) throws SQLException {
        Optional<Fragment> first = dialect.beginWriting("vacancy_bulk_record", "place");
        if (first.isPresent()) {
            update(connection, first.get().sql());
        }
        List<ClaimedRecord> claimed = dialect.locksBeyondLimit()
                ? locked(connection, run, narrowed(connection, run, places))
                : List.<ClaimedRecord>of();
        // Whoever else works may have claimed the first ones.
        return claimed.isEmpty() ? locked(connection, run, places) : claimed;
    }

    /** The same, up to the last of the first few open places. In the order of the index, no more than those are read. */
    private static PlaceRange narrowed(Connection connection, UUID run, PlaceRange places) throws SQLException {
        long last = places.last();
        try (PreparedStatement query = connection.prepareStatement(
                "select place from vacancy_bulk_record where run_id = ? and state = 'open' and place between ? and ?"
                        + " order by run_id, state, place limit " + places.most())) {
            query.setString(1, run.toString());
            query.setLong(2, places.first());
            query.setLong(3, places.last());
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    last = row.getLong(1);
                }
            }
        }
        return new PlaceRange(places.first(), last, places.most(), false);
    }

    private List<ClaimedRecord> locked(Connection connection, UUID run, PlaceRange places) throws SQLException {
        Fragment open = Fragment.of(
                "select place, record_key, begun from vacancy_bulk_record where run_id = ? and state = 'open' and place between ? and ?"
                        + " order by place " + (places.backwards() ? "desc " : "") + "limit " + places.most(),
                Binding.of(run.toString()),
                Binding.of(places.first()),
                Binding.of(places.last()));
        List<ClaimedRecord> claimed = new ArrayList<>();
        try (PreparedStatement query = dialect.governed(
                                dialect.skippingLocked(open).orElse(open), lockWait)
                        .prepare(connection);
                ResultSet row = query.executeQuery()) {
            while (row.next()) {
                claimed.add(new ClaimedRecord(
                        row.getLong(1), Image.readList(row.getString(2)), Begun.of(row.getString(3))));
            }
        }
        return claimed;
    }

    /** Whether a record is still to be dealt with, as soon as nobody else holds its line. */
    boolean isOpen(Connection connection, UUID run, ClaimedRecord record) throws SQLException {
        Fragment line = Fragment.of(
                "select state from vacancy_bulk_record where run_id = ? and place = ?",
                Binding.of(run.toString()),
                Binding.of(record.place()));
        try (PreparedStatement query =
                        dialect.governed(dialect.locking(line), lockWait).prepare(connection);
                ResultSet row = query.executeQuery()) {
            return row.next() && row.getString(1).equals("open");
        }
    }

    /**
     * Keeps a transaction on another server from dealing with a record whose line is still open here, where a lock says nothing of it: what
     * both have changed is told as they commit.
     */
    void fence(Connection connection, UUID run, ClaimedRecord record) throws SQLException {
        if (dialect.locksAreLocal()) {
            for (String change : List.of("attempts + 1", "attempts - 1")) {
                update(
                        connection,
                        "update vacancy_bulk_record set attempts = " + change + " where run_id = ? and place = ?",
                        run.toString(),
                        record.place());
            }
        }
    }

    /** Does the same for the line of a run that may just be beginning. */
    void fence(Connection connection, BulkRun run, RunConditions conditions) throws SQLException {
        if (dialect.locksAreLocal() && run(connection, run.runId()).isEmpty()) {
            insert(connection, run, conditions);
            for (String table : List.of("vacancy_bulk_share", "vacancy_bulk_run")) {
                update(
                        connection,
                        "delete from " + table + " where run_id = ?",
                        run.runId().toString());
            }
        }
    }

    /** Says what became of records. */
    void mark(Connection connection, UUID run, Collection<ClaimedRecord> records, String state, String reason)
            throws SQLException {
        try (PreparedStatement update = connection.prepareStatement(SET_STATE)) {
            for (ClaimedRecord claimed : records) {
                update.setString(1, state);
                update.setString(2, reason == null ? null : cut(reason, LONGEST_REASON));
                update.setString(3, run.toString());
                update.setLong(4, claimed.place());
                update.addBatch();
            }
            update.executeBatch();
        }
    }

    /** Says what is done of a record that takes more than one transaction. */
    void begin(Connection connection, UUID run, ClaimedRecord record, Begun begun) throws SQLException {
        update(
                connection,
                "update vacancy_bulk_record set begun = ? where run_id = ? and place = ?",
                begun.isNothing() ? null : begun.text(),
                run.toString(),
                record.place());
    }

    /** Whether more than nothing is done of a record. */
    boolean isBegun(Connection connection, UUID run, ClaimedRecord record) throws SQLException {
        try (PreparedStatement query =
                connection.prepareStatement("select begun from vacancy_bulk_record where run_id = ? and place = ?")) {
            query.setString(1, run.toString());
            query.setLong(2, record.place());
            try (ResultSet row = query.executeQuery()) {
                return row.next() && row.getString(1) != null;
            }
        }
    }

    /** Notes that a record could not be deleted, unless somebody else has dealt with it meanwhile. */
    int fail(Connection connection, UUID run, ClaimedRecord record, String reason) throws SQLException {
        return update(
                connection,
                "update vacancy_bulk_record set state = 'failed', attempts = attempts + 1, reason = ? where run_id = ? and"
                        + " place = ? and state = 'open'",
                cut(reason, LONGEST_REASON),
                run.toString(),
                record.place());
    }

    /**
     * Adds to what was done; the last thing before a chunk ends, as all workers of a run do it. A run that was cancelled while its last
     * record was dealt with is done.
     */
    void count(Connection connection, UUID run, long done, long skipped, long failed, long deleted)
            throws SQLException {
        Optional<ServerNumber> server = dialect.serverNumber(connection);
        if (server.isPresent()) {
            int counted = update(
                    connection,
                    "update vacancy_bulk_share set done = done + ?, skipped = skipped + ?, failed = failed + ?,"
                            + " deleted = deleted + ?, worked_at = ? where run_id = ? and server = ?",
                    done,
                    skipped,
                    failed,
                    deleted,
                    clock.instant().toString(),
                    run.toString(),
                    (long) (server.get().index() % SHARES));
            // A run that began before there were several servers has no such lines.
            if (counted > 0) {
                return;
            }
        }
        update(
                connection,
                "update vacancy_bulk_run set state = case when state = 'cancelled' and records <= done + skipped + ?"
                        + " then 'done' else state end, done = done + ?, skipped = skipped + ?, failed = failed + ?,"
                        + " deleted = deleted + ?, worked_at = ? where run_id = ?",
                done + skipped,
                done,
                skipped,
                failed,
                deleted,
                clock.instant().toString(),
                run.toString());
    }

    /** Notes that somebody is at a run, though nothing was done in it just now. */
    void touch(Connection connection, UUID run) throws SQLException {
        update(
                connection,
                "update vacancy_bulk_run set worked_at = ? where run_id = ?",
                clock.instant().toString(),
                run.toString());
    }

    long open(Connection connection, UUID run) throws SQLException {
        try (PreparedStatement query = connection.prepareStatement(
                "select count(*) from vacancy_bulk_record where run_id = ? and state = 'open'")) {
            query.setString(1, run.toString());
            try (ResultSet row = query.executeQuery()) {
                row.next();
                return row.getLong(1);
            }
        }
    }

    /** Opens those records again that failed once. */
    int reopen(Connection connection, UUID run) throws SQLException {
        return update(
                connection,
                "update vacancy_bulk_record set state = 'open' where run_id = ? and state = 'failed' and attempts = 1",
                run.toString());
    }

    /** Moves a run from one of some states to another one. Whoever cancels what is dealt with already comes too late. */
    int move(Connection connection, UUID run, List<BulkState> from, BulkState to, Instant at) throws SQLException {
        String states =
                String.join(", ", from.stream().map(state -> "'" + state + "'").toList());
        return update(
                connection,
                "update vacancy_bulk_run set state = "
                        + (to == BulkState.CANCELLED
                                ? "case when records <= done + skipped then 'done' else 'cancelled' end"
                                : "'" + to + "'")
                        + ", ended_at = ?, worked_at = ? where run_id = ? and state in (" + states + ")",
                to.isFinal() ? at.toString() : null,
                at.toString(),
                run.toString());
    }

    private static List<BulkRun> runs(Connection connection, String sql, String... values) throws SQLException {
        List<BulkRun> runs = new ArrayList<>();
        try (PreparedStatement query = connection.prepareStatement(sql)) {
            for (int i = 0; i < values.length; i++) {
                query.setString(i + 1, values[i]);
            }
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    runs.add(run(row));
                }
            }
        }
        return runs;
    }

    private static By by(ResultSet row) throws SQLException {
        return new By(
                row.getString(5),
                Optional.ofNullable(row.getString(6)),
                RunConditions.read(row.getString(15), "").byProgram());
    }

    /** Where servers count by themselves, none knows that it has done the last of a run that was cancelled meanwhile. */
    private static BulkState state(ResultSet row) throws SQLException {
        BulkState state = BulkState.valueOf(row.getString(7).toUpperCase(Locale.ROOT));
        return state == BulkState.CANCELLED && row.getLong(8) <= row.getLong(9) + row.getLong(10)
                ? BulkState.DONE
                : state;
    }

    private static BulkRun run(ResultSet row) throws SQLException {
        return new StoredBulkRun(
                UUID.fromString(row.getString(1)),
                row.getString(2),
                row.getString(3),
                row.getString(4),
                by(row),
                state(row),
                row.getLong(8),
                row.getLong(9),
                row.getLong(10),
                row.getLong(11),
                row.getLong(12),
                Instant.parse(row.getString(13)),
                Optional.ofNullable(row.getString(14)).map(Instant::parse),
                Instant.parse(Optional.ofNullable(row.getString(16)).orElse(row.getString(13))));
    }

    private int update(Connection connection, String sql, Object... values) throws SQLException {
        try (PreparedStatement update =
                dialect.governed(Fragment.of(sql), lockWait).prepare(connection)) {
            for (int i = 0; i < values.length; i++) {
                if (values[i] instanceof Long number) {
                    update.setLong(i + 1, number);
                } else {
                    update.setString(i + 1, (String) values[i]);
                }
            }
            return update.executeUpdate();
        }
    }

    private static String cut(String text, int most) {
        return text.length() <= most ? text : text.substring(0, most - 1) + "…";
    }
}
