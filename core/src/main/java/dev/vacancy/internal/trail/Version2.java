package dev.vacancy.internal.trail;

import dev.vacancy.internal.dialect.Bytes;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;
import java.util.UUID;

/** The trail as the version before has written it: read once, held against its own digests, and taken over. */
final class Version2 {
    static final String VERSION = "trail 2";

    private static final int PORTION = 200;

    private final String runs;
    private final String entries;

    Version2(TrailDdl ddl) {
        this.runs = ddl.runsSetAside();
        this.entries = ddl.entriesSetAside();
    }

    String runs() {
        return runs;
    }

    String entries() {
        return entries;
    }

    /** A run as it was stored, each column as its text. */
    record OldRun(
            long place,
            String id,
            String kind,
            String actor,
            String reason,
            String at,
            String table,
            String selection,
            String rules,
            String counts,
            String partOf,
            String about,
            long entries,
            String entriesDigest,
            String previous,
            String digest,
            String salt,
            String selectionDigest,
            String erasedBy) {
        void requireIntact() {
            String facts = String.join(
                    "\n",
                    id,
                    kind,
                    actor,
                    reason == null ? "" : reason,
                    at,
                    table,
                    selectionDigest,
                    rules,
                    counts,
                    partOf == null ? "" : partOf,
                    about == null ? "" : about);
            String all =
                    String.join("\n", String.valueOf(place), previous, facts, String.valueOf(entries), entriesDigest);
            boolean words =
                    erasedBy != null || Chain.digest(salt + "\n" + selection).equals(selectionDigest);
            if (!words || !Chain.digest(all).equals(digest)) {
                throw new ChangedTrail("Run " + id);
            }
        }

        RunFacts facts() {
            return new RunFacts(
                    UUID.fromString(id),
                    kind.equals(RunKind.HOLD.word()) ? RunKind.STANDING_HOLD : RunKind.of(kind),
                    actor,
                    Optional.empty(),
                    Optional.ofNullable(reason),
                    at,
                    table,
                    selection,
                    rules,
                    RunFacts.counts(counts),
                    Optional.ofNullable(partOf).map(UUID::fromString),
                    Optional.ofNullable(about).map(UUID::fromString));
        }
    }

    /** An entry as it was stored. */
    record OldEntry(
            String run,
            int step,
            long place,
            String action,
            String table,
            String key,
            String content,
            String altered,
            String salt,
            String erasedBy,
            String contentDigest,
            String digest) {
        void requireIntact() {
            String facts = run + "\n" + step + "\n" + place + "\n" + action + "\n" + table + "\n" + key + "\n"
                    + (altered == null ? "" : altered) + "\n" + contentDigest;
            boolean whole =
                    content == null || Chain.digest(salt + "\n" + content).equals(contentDigest);
            if (!whole || !Chain.digest(facts).equals(digest)) {
                throw new ChangedTrail("Entry " + step + "/" + place + " of run " + run);
            }
        }
    }

    List<OldRun> runsAfter(Connection connection, long place) throws SQLException {
        return OwnRows.read(
                connection,
                "select place, run_id, kind, actor, reason, happened_at, table_name, selection, rules, counts, part_of, about,"
                        + " entries, entries_digest, previous_digest, digest, selection_salt, selection_digest, erased_by"
                        + " from " + runs + " where place > ? order by place limit " + PORTION,
                row -> new OldRun(
                        row.getLong(1),
                        row.getString(2),
                        row.getString(3),
                        row.getString(4),
                        row.getString(5),
                        row.getString(6),
                        row.getString(7),
                        row.getString(8),
                        row.getString(9),
                        row.getString(10),
                        row.getString(11),
                        row.getString(12),
                        row.getLong(13),
                        row.getString(14),
                        row.getString(15),
                        row.getString(16),
                        row.getString(17),
                        row.getString(18),
                        row.getString(19)),
                place);
    }

    /** The next few entries of a run, behind a step and place. */
    List<OldEntry> entriesAfter(Connection connection, String run, int step, long place) throws SQLException {
        return entries(
                connection,
                "run_id = ? and (step > ? or (step = ? and place > ?)) order by run_id, step, place limit " + PORTION,
                run,
                step,
                step,
                place);
    }

    /** The entries that an erasure has taken the content of. */
    List<OldEntry> erasedBy(Connection connection, String erasure) throws SQLException {
        return entries(connection, "erased_by = ? order by run_id, step, place", erasure);
    }

    List<String> runsErasedBy(Connection connection, String erasure) throws SQLException {
        return OwnRows.read(
                connection,
                "select run_id from " + runs + " where erased_by = ? order by place",
                row -> row.getString(1),
                erasure);
    }

    private List<OldEntry> entries(Connection connection, String where, Object... values) throws SQLException {
        return OwnRows.read(
                connection,
                "select run_id, step, place, action, table_name, record_key, content, altered, salt, erased_by,"
                        + " content_digest, digest from " + entries + " where " + where,
                row -> new OldEntry(
                        row.getString(1),
                        row.getInt(2),
                        row.getLong(3),
                        row.getString(4),
                        row.getString(5),
                        row.getString(6),
                        row.getString(7),
                        row.getString(8),
                        row.getString(9),
                        row.getString(10),
                        row.getString(11),
                        row.getString(12)),
                values);
    }

    /** The digest of the digests of a run's entries, as they were joined. */
    static final class Joined {
        private final MessageDigest all = Chain.sha256();
        private long count;

        void add(OldEntry entry) {
            all.update((entry.digest() + "\n").getBytes(StandardCharsets.UTF_8));
            count++;
        }

        void requireOf(OldRun run) {
            String digest = Bytes.hex(ByteBuffer.wrap(all.digest()));
            if (count != run.entries() || !digest.equals(run.entriesDigest())) {
                throw new ChangedTrail("The entries of run " + run.id());
            }
        }
    }
}
