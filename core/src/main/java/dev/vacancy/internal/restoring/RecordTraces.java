package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.trail.EntriesByKey;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailKey;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.UUID;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/**
 * Where the trail tells of a record: its own entries, those of whatever went or was changed with it, to any depth, and the runs whose words
 * may name it.
 *
 * @since 0.1
 */
public final class RecordTraces {
    /** How many records are asked for at once. */
    private static final int AT_ONCE = 500;

    private final DatabaseCatalog catalog;
    private final TrailTables tables;
    private final EntryReader reader;
    private final Connection connection;
    private final Map<Reference, StoredEntry> entries = new LinkedHashMap<>();
    private final Set<String> named = new HashSet<>();
    private final Set<List<String>> records = new HashSet<>();

    private RecordTraces(DatabaseCatalog catalog, TrailTables tables, Connection connection) {
        this.catalog = catalog;
        this.tables = tables;
        this.reader = new EntryReader(tables);
        this.connection = connection;
    }

    static RecordTraces of(DatabaseCatalog catalog, TrailTables tables, Connection connection, Table table, String key)
            throws SQLException {
        return of(catalog, tables, connection, table, key, Belonging.NONE);
    }

    /**
     * Looks for what the trail tells of a record, and of those that belonged to it, whenever they went.
     *
     * @param catalog what is there
     * @param tables the trail's
     * @param connection an open connection
     * @param table the record's table
     * @param key its key, as the trail spells it
     * @param belonging what belonged to it
     * @return what was found
     * @throws SQLException when the database doesn't answer
     */
    public static RecordTraces of(
            DatabaseCatalog catalog,
            TrailTables tables,
            Connection connection,
            Table table,
            String key,
            Belonging belonging)
            throws SQLException {
        RecordTraces traces = new RecordTraces(catalog, tables, connection);
        for (StoredEntry own : traces.add(table.name(), key)) {
            if (own.action().removes()) {
                traces.addWhatWentWith(own);
            }
        }
        traces.addWhatNames(table, key);
        traces.addWhatBelonged(table, key, belonging);
        return traces;
    }

    /** A number or UUID that stands for a record says nothing of it; any other key does. */
    static boolean isSurrogate(Table table) {
        return table.identity().stream()
                .allMatch(column -> ColumnType.of(column).isInteger()
                        || ColumnType.of(column).isUuid());
    }

    /** What points at a record, or did, has its key, whenever it went. Where the key tells of the record that is a trace of it as well. */
    private void addWhatNames(Table table, String key) throws SQLException {
        if (isSurrogate(table) || !named.add(table.name() + " " + key)) {
            return;
        }
        for (Link link : catalog.links()) {
            if (link.parent().equals(table) && link.parentColumns().equals(table.identity())) {
                List<StoredEntry> naming = reader.ofTable(
                        connection,
                        link.child().name(),
                        entry -> !entries.containsKey(entry.reference()) && names(entry, link, Set.of(key)));
                naming.forEach(entry -> keep(entry));
                for (StoredEntry entry : naming) {
                    if (entry.key() != null) {
                        addWhatNames(link.child(), entry.key());
                    }
                }
            }
        }
    }

    /**
     * What belonged to a record went when it did, or before. What belongs to another by now, or did when the trail told of it last, is the
     * other's. Each link is looked at with all records of a table at once, as the trail is read for it.
     */
    private void addWhatBelonged(Table table, String key, Belonging belonging) throws SQLException {
        Map<Table, Set<String>> followed = new HashMap<>();
        Map<Table, Set<String>> open = new LinkedHashMap<>();
        belonging.there().forEach((there, keys) -> open.put(there, new TreeSet<>(keys)));
        open.computeIfAbsent(table, missing -> new TreeSet<>()).add(key);
        while (!open.isEmpty()) {
            Table parent = open.keySet().iterator().next();
            Set<String> keys = open.remove(parent);
            keys.removeAll(followed.computeIfAbsent(parent, missing -> new HashSet<>()));
            followed.get(parent).addAll(keys);
            for (Link link : keys.isEmpty() ? List.<Link>of() : catalog.linksTo(parent)) {
                if (belonging.on().test(link) && link.parentColumns().equals(parent.identity())) {
                    Set<String> theirs = addOn(link, keys, belonging.going().apply(link.child()));
                    open.computeIfAbsent(link.child(), missing -> new TreeSet<>())
                            .addAll(theirs);
                }
            }
        }
    }

    /** Keeps what the trail tells of children of some parents; returns the children's keys. */
    private Set<String> addOn(Link link, Set<String> parents, Optional<Condition> going) throws SQLException {
        List<StoredEntry> naming = reader.ofTable(
                connection, link.child().name(), entry -> entry.key() != null && names(entry, link, parents));
        Map<String, StoredEntry> last = new HashMap<>();
        Fragment ofTable = Fragment.of(
                Statements.alias() + ".table_name = ?", Binding.of(link.child().name()));
        List<String> keys = naming.stream().map(StoredEntry::key).distinct().toList();
        for (int from = 0; from < keys.size(); from += AT_ONCE) {
            List<String> some = keys.subList(from, Math.min(keys.size(), from + AT_ONCE));
            new EntriesByKey(reader)
                    .withKeys(connection, some, ofTable).stream()
                            .filter(entry -> entry.image().isPresent())
                            .forEach(entry -> last.merge(
                                    entry.key(),
                                    entry,
                                    (one, other) -> one.reference().compareTo(other.reference()) > 0 ? one : other));
        }
        Set<String> theirs = new TreeSet<>();
        last.forEach((key, entry) -> {
            Map<String, Object> left = new HashMap<>(entry.image().orElseThrow());
            entry.alteration().ifPresent(left::putAll);
            if (names(left, link, parents)) {
                theirs.add(key);
            }
        });
        theirs.removeAll(ofOthers(link.child(), last, theirs, going));
        naming.stream().filter(entry -> theirs.contains(entry.key())).forEach(this::keep);
        return theirs;
    }

    /** Those of some records that are there, and don't belong to it. */
    private Set<String> ofOthers(
            Table table, Map<String, StoredEntry> last, Set<String> keys, Optional<Condition> going)
            throws SQLException {
        List<List<Object>> images = new ArrayList<>();
        for (String key : keys) {
            Map<String, Object> image = last.get(key).image().orElseThrow();
            List<Object> values = new ArrayList<>();
            table.identity().forEach(column -> values.add(image.get(column.name())));
            if (!values.contains(null)) {
                images.add(values);
            }
        }
        Set<String> others = new HashSet<>();
        CurrentRows rows = new CurrentRows(tables.dialect(), connection);
        for (int from = 0; from < images.size(); from += AT_ONCE) {
            List<List<Object>> some = images.subList(from, Math.min(images.size(), from + AT_ONCE));
            Condition these = new Condition.Pictured(table.identity(), some);
            rows.keys(table, these).forEach(key -> others.add(TrailKey.of(key)));
            if (going.isPresent()) {
                rows.keys(table, new Condition.AllOf(List.of(these, going.get())))
                        .forEach(key -> others.remove(TrailKey.of(key)));
            }
        }
        return others;
    }

    private boolean names(StoredEntry entry, Link link, Set<String> keys) {
        return Stream.of(entry.image(), entry.alteration())
                .flatMap(Optional::stream)
                .anyMatch(image -> names(image, link, keys));
    }

    private boolean names(Map<String, Object> image, Link link, Set<String> keys) {
        return link.childColumns().stream().allMatch(column -> image.get(column.name()) != null)
                && keys.contains(TrailKey.of(IntStream.range(
                                0, link.childColumns().size())
                        .mapToObj(i -> tables.dialect()
                                .codec(link.childColumns().get(i))
                                .keyOf(image.get(link.childColumns().get(i).name())))
                        .toList()));
    }

    private List<StoredEntry> add(String table, String key) throws SQLException {
        List<StoredEntry> found = new EntriesByKey(reader).of(connection, table, key);
        found.forEach(entry -> keep(entry));
        return found;
    }

    private void keep(StoredEntry entry) {
        entries.put(entry.reference(), entry);
        records.add(List.of(entry.table(), entry.keyText()));
    }

    private void addWhatWentWith(StoredEntry own) throws SQLException {
        Optional<RecordOfRun> chosen =
                RecordOfRun.of(catalog, reader, connection, together(own.run()), own.table(), own.key());
        for (Reference reference : chosen.map(RecordOfRun::entries).orElse(Set.of())) {
            Optional<StoredEntry> entry = entries.containsKey(reference)
                    ? Optional.empty()
                    : reader.at(connection, reference).filter(found -> !found.isErased());
            if (entry.isPresent()) {
                keep(entry.get());
                if (entry.get().action().removes() && entry.get().key() != null) {
                    add(entry.get().table(), entry.get().key());
                }
            }
        }
    }

    /** The chunks of a bulk run take what belongs together in several runs. */
    private List<UUID> together(long number) throws SQLException {
        Optional<StoredRun> run = tables.run(connection, number);
        Optional<UUID> whole = run.flatMap(found -> found.facts().partOf());
        if (whole.isEmpty()) {
            return run.map(found -> List.of(found.facts().runId())).orElse(List.of());
        }
        return tables
                .runs(connection, "part_of = ? order by place desc", whole.get().toString())
                .stream()
                .map(found -> found.facts().runId())
                .toList();
    }

    /** {@return the entries that tell of it} */
    public List<StoredEntry> entries() {
        return new ArrayList<>(entries.values());
    }

    /** The keys of the records of a table that it tells of, with one that it may tell nothing of. */
    List<String> keys(String table, String asked) {
        return Stream.concat(
                        Stream.ofNullable(asked),
                        entries.values().stream()
                                .filter(entry -> entry.table().equals(table))
                                .map(StoredEntry::key))
                .filter(Objects::nonNull)
                .distinct()
                .toList();
    }

    /**
     * Tells whether a record is among those that it tells of.
     *
     * @param table the record's table
     * @param key its key
     * @return true if so
     */
    public boolean tellsOf(String table, String key) {
        return records.contains(List.of(table, key));
    }

    /** {@return how many entries have content, by table} */
    public Map<String, Long> counts() {
        Map<String, Long> counts = new TreeMap<>();
        entries.values().stream()
                .filter(entry -> entry.content() != null)
                .forEach(entry -> counts.merge(entry.table(), 1L, Long::sum));
        return counts;
    }

    /** The runs whose selection is of such records, and what lifted the holds among them. */
    List<StoredRun> runs() throws SQLException {
        Set<String> names = new TreeSet<>();
        Set<Long> numbers = new TreeSet<>();
        entries.values().forEach(entry -> {
            names.add(entry.table());
            numbers.add(entry.run());
        });
        List<StoredRun> runs = new ArrayList<>();
        for (Long number : numbers) {
            Optional<StoredRun> run = tables.run(connection, number)
                    .filter(found -> names.contains(found.facts().table()) && !found.isErased());
            if (run.isPresent()) {
                runs.add(run.get());
                if (run.get().facts().kind().holds()) {
                    runs.addAll(lifts(run.get()));
                }
            }
        }
        return runs;
    }

    private List<StoredRun> lifts(StoredRun hold) throws SQLException {
        return tables
                .runs(
                        connection,
                        "kind = ? and about = ? and erased_by is null",
                        RunKind.LIFT.word(),
                        hold.facts().runId().toString())
                .stream()
                .toList();
    }
}
