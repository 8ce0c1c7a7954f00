package dev.vacancy.internal.trail;

import dev.vacancy.internal.dialect.Bytes;
import dev.vacancy.internal.trail.Version2.OldEntry;
import dev.vacancy.internal.trail.Version2.OldRun;
import java.nio.ByteBuffer;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.BiFunction;

/**
 * Takes over a trail that the version before has written: each run at its place, with its entries, after all of it was held against
 * its own digests. The digests are others afterwards; the run that is added at the end says which there were, so a head that
 * somebody keeps is still recognised.
 *
 * @since 0.1
 */
public final class TrailUpgrade {
    /** The length at which keys were cut. */
    private static final int CUT = 500;

    private final TrailTables tables;
    private final TrailDdl ddl;
    private final Version2 old;
    private final EntryReader reader;
    private final BiFunction<String, Map<String, Object>, Optional<String>> keyOf;
    private final List<OldRun> runs = new ArrayList<>();
    private String previous = TrailTables.NOTHING;

    /**
     * Takes nothing over yet.
     *
     * @param tables the tables of this version, made but without their first row
     * @param keyOf gives the key of a record of a table from its image, where it can
     */
    public TrailUpgrade(TrailTables tables, BiFunction<String, Map<String, Object>, Optional<String>> keyOf) {
        this.tables = tables;
        this.ddl = new TrailDdl(tables);
        this.old = new Version2(ddl);
        this.reader = new EntryReader(tables);
        this.keyOf = keyOf;
    }

    /**
     * Takes over whatever stands in the tables that were set aside, in one transaction.
     *
     * @param connection a connection in a transaction that writes
     * @param clock tells when it is done
     * @throws SQLException when the database refuses
     */
    public void copy(Connection connection, Clock clock) throws SQLException {
        try (Statement statement = connection.createStatement()) {
            statement.executeUpdate("delete from " + tables.entries());
            statement.executeUpdate("delete from " + tables.runs());
            statement.executeUpdate(ddl.beginning());
        }
        long place = 0;
        for (List<OldRun> portion = old.runsAfter(connection, 0);
                !portion.isEmpty();
                portion = old.runsAfter(connection, place)) {
            for (OldRun run : portion) {
                copy(connection, run);
                place = run.place();
            }
        }
        if (!runs.isEmpty()) {
            writeDown(connection, clock);
        }
    }

    /**
     * Returns what removes the tables that were set aside.
     *
     * @return statements in their order
     */
    public List<String> removal() {
        return List.of("drop table " + old.entries(), "drop table " + old.runs());
    }

    private void copy(Connection connection, OldRun run) throws SQLException {
        run.requireIntact();
        boolean first = runs.isEmpty();
        if (!first && !run.previous().equals(runs.get(runs.size() - 1).digest())) {
            throw new ChangedTrail("Run " + run.id());
        }
        if (first) {
            previous = run.previous();
        }
        runs.add(run);
        Version2.Joined joined = new Version2.Joined();
        try (EntryWriter writer = new EntryWriter(tables, connection)) {
            int step = 0;
            long place = 0;
            for (List<OldEntry> portion = old.entriesAfter(connection, run.id(), 0, 0);
                    !portion.isEmpty();
                    portion = old.entriesAfter(connection, run.id(), step, place)) {
                Map<String, Reference> undone = undone(connection, run, portion);
                for (OldEntry entry : portion) {
                    entry.requireIntact();
                    joined.add(entry);
                    write(writer, entry, undone.get(entry.table() + " " + entry.key()));
                    step = entry.step();
                    place = entry.place();
                }
                writer.flush();
            }
            writeErasures(connection, run, writer);
            writer.flush();
        }
        joined.requireOf(run);
        previous = append(connection, run);
    }

    private void write(EntryWriter writer, OldEntry entry, Reference about) throws SQLException {
        Reference reference = new Reference(RunNumber.of(UUID.fromString(entry.run())), entry.step(), entry.place());
        String rest = StoredEntry.rest(entry.action(), entry.table(), about);
        boolean erased = entry.erasedBy() != null;
        String key = erased ? null : wholeKey(entry);
        String altered = erased ? null : entry.altered();
        ByteBuffer salt = erased ? ByteBuffer.allocate(0) : writer.salt();
        writer.write(new StoredEntry(
                reference,
                entry.action(),
                entry.table(),
                key,
                entry.content(),
                altered,
                about,
                erased ? RunNumber.of(UUID.fromString(entry.erasedBy())) : null,
                salt,
                erased
                        ? Bytes.of(entry.contentDigest())
                        : StoredEntry.digest(salt, reference, rest, key, altered, entry.content())));
    }

    /** Keys that were cut stand whole in the content. */
    private String wholeKey(OldEntry entry) {
        if (entry.key().length() == CUT && entry.content() != null) {
            return keyOf.apply(entry.table(), Image.read(entry.content())).orElse(entry.key());
        }
        return entry.key().isEmpty() ? null : entry.key();
    }

    /** Which entries the restored ones are about: the records of the undone run that have the same key. */
    private Map<String, Reference> undone(Connection connection, OldRun run, List<OldEntry> portion)
            throws SQLException {
        Map<String, Reference> undone = new HashMap<>();
        if (run.about() == null || !RunKind.of(run.kind()).restores()) {
            return undone;
        }
        List<UUID> parts = tables.runs(connection, "run_id = ? or part_of = ?", run.about(), run.about()).stream()
                .map(each -> each.facts().runId())
                .toList();
        for (OldEntry entry : portion) {
            for (StoredEntry original : new EntriesByKey(reader).of(connection, entry.table(), wholeKey(entry))) {
                if (parts.stream().anyMatch(part -> RunNumber.of(part) == original.run())) {
                    undone.put(entry.table() + " " + entry.key(), original.reference());
                }
            }
        }
        return undone;
    }

    private void writeErasures(Connection connection, OldRun run, EntryWriter writer) throws SQLException {
        UUID id = UUID.fromString(run.id());
        long place = 0;
        for (OldEntry erased : old.erasedBy(connection, run.id())) {
            long number = RunNumber.of(UUID.fromString(erased.run()));
            Recorder.Heading heading = new Recorder.Heading(id, 1, Action.ERASED, erased.table(), Optional.empty());
            Reference reference = new Reference(number, erased.step(), erased.place());
            Optional<StoredEntry> entry = reader.at(connection, reference);
            if (entry.isPresent()) {
                writer.add(heading, ++place, null, entry.get().remains(), reference);
            }
        }
        Recorder.Heading words = new Recorder.Heading(id, 2, Action.ERASED, run.table(), Optional.empty());
        place = 0;
        for (String erased : old.runsErasedBy(connection, run.id())) {
            writer.add(words, ++place, null, null, Reference.toRun(RunNumber.of(UUID.fromString(erased))));
        }
    }

    private String append(Connection connection, OldRun run) throws SQLException {
        StoredRun.Words words = run.erasedBy() == null
                ? StoredRun.Words.of(run.salt(), run.selection())
                : new StoredRun.Words(null, run.selectionDigest(), RunNumber.of(UUID.fromString(run.erasedBy())));
        return new Chain(tables).put(connection, run.place(), previous, run.facts(), words);
    }

    private void writeDown(Connection connection, Clock clock) throws SQLException {
        UUID id = RunNumber.newId();
        try (EntryWriter writer = new EntryWriter(tables, connection)) {
            PrunedRun.write(
                    writer,
                    id,
                    runs.stream()
                            .map(run -> new PrunedRun(run.place(), run.digest()))
                            .toList());
        }
        new Chain(tables)
                .append(
                        connection,
                        new RunFacts(
                                id,
                                RunKind.UPGRADE,
                                "vacancy",
                                Optional.empty(),
                                Optional.of("from version 2 of the tables to version 3"),
                                TrailTables.text(clock.instant()),
                                "",
                                "",
                                "",
                                Map.of("runs", (long) runs.size()),
                                Optional.empty(),
                                Optional.empty()));
    }
}
