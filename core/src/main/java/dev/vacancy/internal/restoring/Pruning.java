package dev.vacancy.internal.restoring;

import dev.vacancy.By;
import dev.vacancy.internal.follow.Collecting;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.EntriesByKey;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.EntryWriter;
import dev.vacancy.internal.trail.PrunedRun;
import dev.vacancy.internal.trail.ReadableImage;
import dev.vacancy.internal.trail.Recorder;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.SqlTrailStore;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailStore;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;

/** Removes the oldest runs of a trail. What is left says where it begins, and which runs there were before. */
final class Pruning {
    private final Rules rules;
    private final Clock clock;
    private final TrailTables tables;

    Pruning(Rules rules, Clock clock, TrailTables tables) {
        this.rules = rules;
        this.clock = clock;
        this.tables = tables;
    }

    /** Returns how many runs went. A hold that nobody has lifted stays, as does what is told of a held record, with all that came after. */
    long removeBefore(Connection connection, Instant before, By by, UUID id) throws SQLException {
        new Chain(tables).lock(connection);
        List<StoredRun> old = old(connection, before);
        if (old.isEmpty()) {
            return 0;
        }
        tellFollowers(connection, old);
        writeDown(connection, old, id);
        StoredRun last = old.get(old.size() - 1);
        // Before they go, so that the places go on.
        RunFacts facts = new TrailChangeFacts(rules, clock)
                .of(
                        id,
                        RunKind.AGEING,
                        by,
                        "",
                        new PrunedRun(last.place(), last.digest()).toString(),
                        Map.of("runs", (long) old.size()));
        new Chain(tables).append(connection, facts);
        for (StoredRun run : old) {
            new EntryReader(tables).remove(connection, run.facts().runId());
        }
        return old.size();
    }

    /** What belongs to records that can't come back any more goes for good. */
    private void tellFollowers(Connection connection, List<StoredRun> old) throws SQLException {
        Optional<Collecting> collecting = Collecting.of(rules, tables.dialect());
        if (collecting.isEmpty()) {
            return;
        }
        collecting.get().all(connection);
        Set<Long> going = old.stream().map(StoredRun::number).collect(Collectors.toSet());
        EntryReader reader = new EntryReader(tables);
        TrailStore store = new SqlTrailStore(reader, new ReadableImage(rules.catalog()), connection);
        for (StoredRun run : old) {
            if (run.facts().kind().removes()) {
                RestoredEntries returned = RestoredEntries.by(store, restoresOf(connection, run));
                reader.eachOf(
                        connection,
                        run.number(),
                        entries -> collecting
                                .get()
                                .noWayBack(connection, run, entries, Action.DELETED::isOf, returned::contains, going));
            }
        }
    }

    private List<UUID> restoresOf(Connection connection, StoredRun run) throws SQLException {
        String whole = run.facts().partOf().orElse(run.facts().runId()).toString();
        return tables
                .runs(
                        connection,
                        "kind in ('restore', 'part restore', 'restoring') and about in (?, ?)",
                        run.facts().runId().toString(),
                        whole)
                .stream()
                .map(restore -> restore.facts().runId())
                .toList();
    }

    private List<StoredRun> old(Connection connection, Instant before) throws SQLException {
        Set<Long> held = held(connection);
        List<StoredRun> old = new ArrayList<>();
        for (StoredRun run : tables.runs(connection, "happened_at < ? order by place", TrailTables.text(before))) {
            boolean next = old.isEmpty() || old.get(old.size() - 1).place() + 1 == run.place();
            if (!next || held.contains(run.number())) {
                break;
            }
            old.add(run);
        }
        return old;
    }

    /** The runs that hold records, and those that tell of the held ones. */
    private Set<Long> held(Connection connection) throws SQLException {
        EntryReader reader = new EntryReader(tables);
        Set<Long> held = new HashSet<>();
        for (StoredRun hold : tables.holds(connection)) {
            held.add(hold.number());
            reader.each(connection, hold.facts().runId(), 1, portion -> {
                for (StoredEntry entry : portion) {
                    new EntriesByKey(reader)
                            .of(connection, entry.table(), entry.key())
                            .forEach(other -> held.add(other.run()));
                }
            });
        }
        return held;
    }

    /** A head that somebody keeps can be recognised after its run has gone. */
    private void writeDown(Connection connection, List<StoredRun> old, UUID id) throws SQLException {
        Recorder recorder = new Recorder(rules.recording().orElseThrow(), tables.dialect());
        try (EntryWriter writer = recorder.writer(connection)) {
            PrunedRun.write(
                    writer,
                    id,
                    old.stream()
                            .map(run -> new PrunedRun(run.place(), run.digest()))
                            .toList());
        }
    }
}
