package dev.vacancy.internal.restoring;

import dev.vacancy.By;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.TrailRun;
import dev.vacancy.internal.catalog.GivenKeys;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.follow.Collecting;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.ConsentDemands;
import dev.vacancy.internal.planning.Gated;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.planning.RequestDigest;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.EntriesByKey;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.EntryWriter;
import dev.vacancy.internal.trail.Recorder;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailKey;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * Takes what the audit trail says of a record out of it. What was erased is told entry by entry, and so can be verified.
 *
 * @since 0.1
 */
public final class Erasure {
    private final Planner planner;
    private final Rules rules;
    private final Clock clock;
    private final TrailTables tables;
    private final EntryReader reader;
    private final TextElsewhere elsewhere;

    /**
     * Prepares to erase.
     *
     * @param planner reads records
     * @param clock tells when
     * @param tables the trail's
     * @param elsewhere what people wrote beside the trail
     */
    public Erasure(Planner planner, Clock clock, TrailTables tables, TextElsewhere elsewhere) {
        this.elsewhere = elsewhere;
        this.planner = planner;
        this.rules = planner.rules();
        this.clock = clock;
        this.tables = tables;
        this.reader = new EntryReader(tables);
    }

    /**
     * Spells a key the way the trail does, or as it was given where the record isn't there.
     *
     * @param dialect the dialect of the database
     * @param connection an open connection
     * @param table the record's table
     * @param key its key
     * @return the key's text
     * @throws SQLException when the database doesn't answer
     */
    public static String keyText(Dialect dialect, Connection connection, Table table, Key key) throws SQLException {
        Condition itself = new Condition.Among(key.columns(), List.of(key.values()));
        return TrailKey.of(new CurrentRows(dialect, connection)
                .keys(table, itself).stream().findFirst().orElseGet(key::texts));
    }

    Table table(String name) {
        return rules.catalog().table(name);
    }

    /** Works out what erasing a record from the trail would do. */
    PlannedErasure plan(Connection connection, Table table, String key, By by) throws SQLException {
        Scope scope = planner.on(connection).scope(RequestDigest.ofErasure(table, key));
        RecordTraces traces = RecordTraces.of(rules.catalog(), tables, connection, table, key);
        List<TrailRun> holds = holds(connection, traces, table, key);
        List<StoredEntry> recorded = traces.entries().stream()
                .filter(entry -> entry.table().equals(table.name()) && key.equals(entry.key()))
                .toList();
        boolean there = !planner.on(connection)
                .reader()
                .keys(table, withKey(table, key, recorded), 1, false)
                .isEmpty();
        Map<String, Long> counts = traces.counts();
        ConsentDemands demands = new ConsentDemands(rules, rules);
        return new PlannedErasure(
                table.name(),
                key,
                by,
                clock.instant(),
                counts,
                holds,
                there,
                // What stands in the way is told by itself, not as another plan.
                Chain.digest(scope + "\n" + counts),
                demands.withoutWayBack(table),
                demands.colleague(counts.isEmpty() ? Map.of(table.name(), 1L) : counts),
                scope);
    }

    /**
     * Finds the holds on a record, and on others that the trail tells of with it.
     *
     * @param connection an open connection
     * @param traces what the trail tells of it
     * @param table its table
     * @param key its key
     * @return the runs that made them
     * @throws SQLException when the database doesn't answer
     */
    public List<TrailRun> holds(Connection connection, RecordTraces traces, Table table, String key)
            throws SQLException {
        List<TrailRun> holds = new ArrayList<>();
        for (StoredRun hold : tables.holds(connection)) {
            List<String> keys = traces.keys(
                    hold.facts().table(), table.name().equals(hold.facts().table()) ? key : null);
            if (!keys.isEmpty() && mayHold(connection, hold, keys)) {
                holds.add(PublicForm.run(hold));
            }
        }
        return holds;
    }

    /**
     * Tells of a hold in the words of an application.
     *
     * @param hold the run that made it
     * @return the same
     */
    public static TrailRun told(StoredRun hold) {
        return PublicForm.run(hold);
    }

    /** Whether records met the criteria of a standing hold, nobody can tell from the trail. */
    private boolean mayHold(Connection connection, StoredRun hold, List<String> keys) throws SQLException {
        return hold.facts().kind() == RunKind.STANDING_HOLD || new EntriesByKey(reader).hasAny(connection, hold, keys);
    }

    /** The trail has keys in the spelling of the database, which isn't always the one that a person is asked for. */
    private static Condition withKey(Table table, String key, List<StoredEntry> recorded) {
        Optional<Map<String, Object>> image = recorded.stream()
                .flatMap(entry -> entry.image().stream())
                .filter(each -> table.identity().stream().allMatch(column -> each.get(column.name()) != null))
                .findFirst();
        if (image.isPresent()) {
            return new Condition.Pictured(
                    table.identity(),
                    List.of(table.identity().stream()
                            .map(column -> image.get().get(column.name()))
                            .toList()));
        }
        List<String> values = TrailKey.texts(key, table.identity().size());
        return new Condition.Among(
                table.identity(),
                List.of(GivenKeys.resolve(new KeyGiven.InOrder(values), table).values()));
    }

    /**
     * Takes the content out of all entries of a record, and writes down that this was done.
     *
     * @param passage proof that it, or the deletion that it is part of, has come through the gate
     * @param gone what has come through
     * @return how many entries have lost their content
     */
    long carryOut(Passage passage, Gated gone, Connection connection, String table, String key, UUID id)
            throws SQLException {
        RecordTraces traces = RecordTraces.of(
                rules.catalog(), tables, connection, rules.catalog().table(table), key);
        return carryOut(passage, gone, connection, traces, Action.DELETED::isOf, table, key, id);
    }

    /**
     * Takes the content out of some entries, and writes down that this was done.
     *
     * @param passage proof that it, or the plan that it is part of, has come through the gate
     * @param gone what has come through
     * @param connection a connection in a transaction that writes, with the trail's lock
     * @param traces what the trail tells of the record
     * @param lost which entries are of something that can't come back by that
     * @param table the record's table
     * @param key its key, as the trail spells it
     * @param id the number of the erasure
     * @return how many entries have lost their content
     * @throws SQLException when the database refuses
     */
    public long carryOut(
            Passage passage,
            Gated gone,
            Connection connection,
            RecordTraces traces,
            Predicate<StoredEntry> lost,
            String table,
            String key,
            UUID id)
            throws SQLException {
        passage.require(gone);
        String kept = isSurrogate(table) ? key : null;
        tellFollowers(connection, traces, lost);
        erase(connection, traces, table, id);
        new Chain(tables)
                .append(
                        connection,
                        new TrailChangeFacts(rules, clock)
                                .of(
                                        id,
                                        RunKind.ERASURE,
                                        passage.by(),
                                        passage.colleague(),
                                        table,
                                        table + " " + (kept == null ? StoredRun.ERASED : kept),
                                        traces.counts(),
                                        Optional.empty()));
        return traces.counts().values().stream().mapToLong(Long::longValue).sum();
    }

    /** What belongs to records that can't come back any more goes for good. */
    private void tellFollowers(Connection connection, RecordTraces traces, Predicate<StoredEntry> lost)
            throws SQLException {
        Optional<Collecting> collecting = Collecting.of(rules, tables.dialect());
        if (collecting.isEmpty()) {
            return;
        }
        collecting.get().all(connection);
        Set<Reference> returned = traces.entries().stream()
                .filter(entry -> entry.action() == Action.RESTORED && entry.about() != null)
                .map(StoredEntry::about)
                .collect(Collectors.toSet());
        Map<Long, List<StoredEntry>> byRun = traces.entries().stream().collect(Collectors.groupingBy(StoredEntry::run));
        for (Map.Entry<Long, List<StoredEntry>> each : byRun.entrySet()) {
            Optional<StoredRun> run = tables.run(connection, each.getKey());
            if (run.isPresent()) {
                collecting
                        .get()
                        .noWayBack(connection, run.get(), each.getValue(), lost, returned::contains, byRun.keySet());
            }
        }
    }

    /** A number or UUID that stands for a record and says nothing of it stays, so that it can be told later what became of that. */
    private boolean isSurrogate(String name) {
        Optional<Table> table = rules.catalog().tables().stream()
                .filter(each -> each.name().equals(name))
                .findFirst();
        return table.filter(RecordTraces::isSurrogate).isPresent();
    }

    private void erase(Connection connection, RecordTraces traces, String table, UUID id) throws SQLException {
        Recorder recorder = new Recorder(rules.recording().orElseThrow(), tables.dialect());
        Recorder.Heading ofWords =
                new Recorder.Heading(id, EntryReader.OF_RUNS, Action.ERASED, table, Optional.empty());
        Recorder.Heading ofMasked =
                new Recorder.Heading(id, EntryReader.OF_RUNS, Action.MASKED, table, Optional.empty());
        List<StoredRun> runs = traces.runs();
        try (EntryWriter writer = recorder.writer(connection)) {
            long place = 0;
            for (StoredEntry entry : traces.entries()) {
                String kept = isSurrogate(entry.table()) ? entry.key() : null;
                StoredEntry left = entry.erased(kept, RunNumber.of(id));
                reader.replace(connection, left);
                Recorder.Heading ofEntry = new Recorder.Heading(
                        id, EntryReader.OF_ENTRIES, Action.ERASED, entry.table(), Optional.empty());
                writer.add(ofEntry, ++place, kept, left.remains(), left.reference());
            }
            place = 0;
            for (StoredRun run : runs) {
                StoredRun left = run.withoutSelection(RunNumber.of(id));
                tables.replaceWords(connection, left);
                writer.add(
                        run.isMasked() ? ofMasked : ofWords,
                        ++place,
                        null,
                        run.isMasked() ? left.remains() : null,
                        Reference.toRun(run.number()));
            }
            writer.flush();
        }
        elsewhere.erase(
                connection,
                runs.stream().flatMap(run -> run.facts().partOf().stream()).collect(Collectors.toSet()),
                traces::tellsOf);
    }
}
