package dev.vacancy.internal.trail;

import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.trail.StoredRun.Words;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Instant;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;

/**
 * Chains the runs of a trail: each bears the digest of the one before, so that none can be changed, removed or slipped in
 * without all after it telling.
 *
 * @since 0.1
 */
public final class Chain {
    private static final int PORTION = 1_000;

    private final TrailTables tables;

    /**
     * Makes the chain of a trail.
     *
     * @param tables its tables
     */
    public Chain(TrailTables tables) {
        this.tables = tables;
    }

    /**
     * Writes down a run behind all others. It waits for whoever is doing the same, and keeps others from it until the
     * transaction ends, so this is the last thing that a run does.
     *
     * @param connection a connection in a transaction that has written the run's entries
     * @param facts what the run was
     * @return the run as it stands in the trail
     * @throws SQLException when the database refuses
     */
    public StoredRun append(Connection connection, RunFacts facts) throws SQLException {
        return append(connection, facts, HoldsInForce.NONE, Set.of());
    }

    /**
     * Writes down a run that has removed or changed records, unless some of their tables were put on hold while it was under way. Whoever
     * holds records waits for the same lock, so one of the two comes first.
     *
     * @param connection a connection in a transaction that has written the run's entries
     * @param facts what the run was
     * @param known the holds that it has kept to
     * @param changed the names of the tables of its records
     * @return the run as it stands in the trail
     * @throws HoldPlacedMeanwhile when there are holds that it can't have kept to
     * @throws SQLException when the database refuses
     */
    public StoredRun append(Connection connection, RunFacts facts, HoldsInForce known, Set<String> changed)
            throws SQLException {
        // Read before the lock, which everybody waits for.
        Entries entries = entries(connection, RunNumber.of(facts.runId()));
        lock(connection);
        long place = 0;
        String previous = TrailTables.NOTHING;
        String last = tables.dialect()
                .locking(Fragment.of("select place, digest from " + tables.runs() + " order by place desc limit 1"))
                .sql();
        try (PreparedStatement query = connection.prepareStatement(last);
                ResultSet row = query.executeQuery()) {
            if (row.next()) {
                place = row.getLong(1);
                previous = row.getString(2);
            }
        }
        for (StoredRun later : known.asOf() < place ? since(connection, known) : List.<StoredRun>of()) {
            if (changed.contains(later.facts().table())) {
                throw new HoldPlacedMeanwhile(later.facts().table());
            }
        }
        Words words = Words.of(UUID.randomUUID().toString(), facts.selection());
        return insert(connection, place + 1, previous, facts, entries, words);
    }

    /** A transaction may look at an old state of the database; a lock looks at the present one. */
    private List<StoredRun> since(Connection connection, HoldsInForce known) throws SQLException {
        return tables.runsToWriteAfter(connection, known.asOf()).stream()
                .filter(run -> run.facts().kind().holds())
                .toList();
    }

    /** Writes down a run at the place that it has, behind one of a known digest, and returns its own. */
    String put(Connection connection, long place, String previous, RunFacts facts, Words words) throws SQLException {
        Entries entries = entries(connection, RunNumber.of(facts.runId()));
        return insert(connection, place, previous, facts, entries, words).digest();
    }

    private StoredRun insert(
            Connection connection, long place, String previous, RunFacts facts, Entries entries, Words words)
            throws SQLException {
        StoredRun run = StoredRun.of(place, previous, facts, entries.count, entries.digest, words);
        tables.insert(connection, run);
        return run;
    }

    /**
     * Takes the next place and gives it back, so that a transaction on another server that is about to take it has to be ended as it commits,
     * or has been seen here. It is for the time when nobody knows what came of that one, and a lock says nothing of it.
     *
     * @param connection a connection in a transaction that writes, and in which the run wasn't found
     * @param run the run that nobody knows of
     * @throws SQLException when the database refuses
     */
    public void fence(Connection connection, UUID run) throws SQLException {
        RunFacts nothing = new RunFacts(
                run,
                RunKind.DELETION,
                "",
                Optional.empty(),
                Optional.empty(),
                TrailTables.text(Instant.EPOCH),
                "",
                "",
                "",
                Map.of(),
                Optional.empty(),
                Optional.empty());
        tables.remove(connection, append(connection, nothing).place());
    }

    /**
     * Waits for whoever is writing a run down, and keeps others from it until the transaction ends.
     *
     * @param connection a connection in a transaction that writes
     * @throws SQLException when the database refuses
     */
    public void lock(Connection connection) throws SQLException {
        Fragment first = Fragment.of("select place from " + tables.runs() + " where place = 0");
        try (PreparedStatement query = tables.dialect().locking(first).prepare(connection)) {
            query.executeQuery().close();
        }
    }

    private record Entries(long count, String digest) {}

    /** What the entries say is digested by the database; only the digests come here. */
    private Entries entries(Connection connection, long run) throws SQLException {
        MessageDigest all = sha256();
        long count = 0;
        try (PreparedStatement query = connection.prepareStatement(
                "select digest from " + tables.entries() + " where run_no = ? order by run_no, step, place")) {
            query.setLong(1, run);
            query.setFetchSize(PORTION);
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    all.update(row.getBytes(1));
                    count++;
                }
            }
        }
        return new Entries(count, HexFormat.of().formatHex(all.digest()));
    }

    /**
     * Begins a digest.
     *
     * @return SHA-256 (FIPS 180-4)
     */
    public static MessageDigest sha256() {
        try {
            return MessageDigest.getInstance("SHA-256");
        } catch (NoSuchAlgorithmException missing) {
            throw new IllegalStateException("every Java platform has SHA-256", missing);
        }
    }

    /**
     * Digests a text.
     *
     * @param text the text
     * @return 64 hexadecimal digits
     */
    public static String digest(String text) {
        return sha256(text);
    }

    static String sha256(String text) {
        return HexFormat.of().formatHex(sha256().digest(text.getBytes(StandardCharsets.UTF_8)));
    }
}
