package dev.vacancy.internal.trail;

import dev.vacancy.DatabaseException;
import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.stream.Collectors;

/**
 * A trail in tables of a relational database.
 *
 * @param reader reads its entries
 * @param readable spells images for people
 * @param connection a connection in a transaction that sees one state
 * @since 0.1
 */
public record SqlTrailStore(EntryReader reader, ReadableImage readable, Connection connection) implements TrailStore {
    private static final List<String> MENTIONED =
            List.of("run_no", "step", "place", "action", "record_key", "about_run", "about_step", "about_place");

    /** Something that is read from the tables. */
    @FunctionalInterface
    private interface Reading<T> {
        T read() throws SQLException;
    }

    private static <T> T reading(Reading<T> reading) {
        try {
            return reading.read();
        } catch (SQLException failure) {
            throw new DatabaseException("read the audit trail", "Nothing was changed.", failure);
        }
    }

    private TrailTables tables() {
        return reader.tables();
    }

    private EntryReferences references() {
        return new EntryReferences(reader);
    }

    @Override
    public boolean hasBeginning() {
        return reading(() -> new TrailDdl(tables()).hasBeginning(connection));
    }

    /** Conditions, and the values of their question marks. */
    private static final class Conditions {
        private final List<String> parts = new ArrayList<>(List.of("1 = 1"));
        private final List<Object> values = new ArrayList<>();

        void and(String part, Object... bound) {
            parts.add(part);
            values.addAll(List.of(bound));
        }

        String words() {
            return String.join(" and ", parts);
        }
    }

    @Override
    public List<StoredRun> runs(RunsAsked asked) {
        return reading(() -> {
            Conditions which = new Conditions();
            asked.run().ifPresent(run -> which.and("(run_id = ? or part_of = ?)", run.toString(), run.toString()));
            asked.actor().ifPresent(actor -> which.and("actor = ?", actor));
            asked.about().ifPresent(run -> which.and("about = ?", run.toString()));
            asked.from().ifPresent(from -> which.and("happened_at >= ?", TrailTables.text(from)));
            asked.until().ifPresent(until -> which.and("happened_at < ?", TrailTables.text(until)));
            asked.table().ifPresent(table -> which.and("table_name = ?", table));
            asked.untold().forEach(table -> which.and("table_name <> ?", table));
            if (asked.entries().isPresent()) {
                having(asked.entries().get(), which);
            }
            String part =
                    asked.most() == Integer.MAX_VALUE ? "" : " limit " + asked.most() + " offset " + asked.skipped();
            String order = " order by place " + (asked.newestFirst() ? "desc" : "asc");
            return tables().runs(connection, which.words() + order + part, which.values.toArray());
        });
    }

    private void having(RunsAsked.EntriesOf of, Conditions which) throws SQLException {
        if (of.table().isEmpty()) {
            which.and("entries > 0");
        } else if (of.key().isEmpty()) {
            which.and(
                    "run_no in (select e.run_no from " + tables().entries() + " e where e.table_name = ?)",
                    of.table().get());
        } else {
            String numbers = new EntriesByKey(reader)
                    .runsOf(connection, of.table().get(), of.key().get()).stream()
                            .map(String::valueOf)
                            .collect(Collectors.joining(", "));
            which.and(numbers.isEmpty() ? "1 = 0" : "run_no in (" + numbers + ")");
        }
    }

    @Override
    public Optional<StoredRun> run(long number) {
        return reading(() -> tables().run(connection, number));
    }

    @Override
    public Optional<StoredRun> runAt(long place) {
        return reading(
                () -> tables().runs(connection, "place = ?", place).stream().findFirst());
    }

    @Override
    public OptionalLong placeAfter(long place) {
        return reading(() -> OwnRows.read(
                        connection,
                        "select min(place) from " + tables().runs() + " where place > 0 and place > ?",
                        row -> {
                            long next = row.getLong(1);
                            return row.wasNull() ? OptionalLong.empty() : OptionalLong.of(next);
                        },
                        place)
                .get(0));
    }

    @Override
    public Optional<StoredRun> lastPruning() {
        return reading(() -> tables().runs(connection, "kind = 'ageing' order by place desc limit 1").stream()
                .findFirst());
    }

    @Override
    public List<String> tablesOfRuns() {
        return reading(() -> tables().tablesOfRuns(connection));
    }

    @Override
    public List<EntryReader.StepOf> steps(UUID run) {
        return reading(() -> reader.steps(connection, run));
    }

    @Override
    public List<StoredEntry> entries(EntriesAsked asked, int most, long skipped) {
        Conditions which = new Conditions();
        which.and("run_no = ?", asked.run());
        which.and("action <> 'aged' and (about_step is null or about_step > 0)");
        asked.table().ifPresent(table -> which.and("table_name = ?", table));
        asked.key().ifPresent(key -> which.and("record_key = ?", key));
        asked.untold().forEach(table -> which.and("table_name <> ?", table));
        return reading(() -> reader.read(
                connection,
                which.words() + " order by run_no, step, place limit " + most + " offset " + skipped,
                which.values.toArray()));
    }

    @Override
    public void each(long run, Consumer<List<StoredEntry>> portions) {
        reading(() -> {
            reader.eachOf(connection, run, portions::accept);
            return true;
        });
    }

    @Override
    public void eachUndone(UUID restore, Consumer<Reference> each) {
        reading(() -> {
            references().eachUndone(connection, restore, each);
            return true;
        });
    }

    @Override
    public Map<Reference, StoredEntry> originals(List<StoredEntry> entries) {
        return reading(() -> references().originals(connection, entries));
    }

    @Override
    public Optional<StoredEntry> entry(Reference reference) {
        return reading(() -> reader.at(connection, reference));
    }

    @Override
    public Optional<StoredEntry> pointer(long eraser, Reference about) {
        return reading(() -> references().pointer(connection, eraser, about));
    }

    @Override
    public List<StoredEntry> pruned(long place) {
        Fragment aged = Fragment.of(Statements.alias() + ".action = 'aged'");
        return reading(() -> new EntriesByKey(reader).withKeys(connection, List.of(String.valueOf(place)), aged));
    }

    @Override
    public Map<Long, Long> erasures() {
        String sql = "select erased_by, count(*) from " + tables().entries()
                + " where erased_by is not null group by erased_by";
        Map<Long, Long> erasures = new LinkedHashMap<>();
        reading(() -> OwnRows.read(connection, sql, row -> Map.entry(row.getLong(1), row.getLong(2))))
                .forEach(erasure -> erasures.put(erasure.getKey(), erasure.getValue()));
        return erasures;
    }

    @Override
    public List<Long> strangers() {
        String sql = "select distinct run_no from " + tables().entries() + " e where not exists (select 1 from "
                + tables().runs() + " r where r.run_no = e.run_no and r.place > 0)";
        return reading(() -> OwnRows.read(connection, sql, row -> row.getLong(1)));
    }

    @Override
    public Map<Long, Long> places(Set<Long> numbers) {
        String list = numbers.stream().map(String::valueOf).collect(Collectors.joining(", "));
        String sql = "select run_no, place from " + tables().runs() + " where run_no in (" + list + ")";
        return reading(() -> OwnRows.read(connection, sql, row -> Map.entry(row.getLong(1), row.getLong(2)))).stream()
                .collect(Collectors.toMap(Map.Entry::getKey, Map.Entry::getValue));
    }

    /** By the keys alone: by the run, a database would read all of its entries. */
    @Override
    public List<StoredRun> runsAfter(long place, int most) {
        return reading(() -> tables().runs(connection, "place > ? order by place limit " + most, place));
    }

    @Override
    public List<StoredEntry> entriesAfter(UUID run, int step, long place, int most) {
        return reading(() -> reader.after(connection, run, step, place, most));
    }

    @Override
    public List<RecordHistory.Mention> mentions(String table, List<String> keys, boolean whole) {
        String alias = Statements.alias();
        Fragment further = Fragment.of(
                alias + ".table_name = ? and " + alias + ".action in ('deleted', 'purged', 'marked', 'restored')"
                        + (whole ? " and " + alias + ".content is not null" : ""),
                Binding.of(table));
        return reading(() -> OwnRows.read(
                connection, new EntriesByKey(reader).byKeys(MENTIONED, keys, further), SqlTrailStore::mention));
    }

    private static RecordHistory.Mention mention(ResultSet row) throws SQLException {
        long about = row.getLong(6);
        Optional<Reference> original =
                row.wasNull() ? Optional.empty() : Optional.of(new Reference(about, row.getInt(7), row.getLong(8)));
        return new RecordHistory.Mention(
                new Reference(row.getLong(1), row.getInt(2), row.getLong(3)),
                Action.of(row.getString(4)),
                row.getString(5),
                original);
    }

    @Override
    public Optional<Map<String, Object>> content(StoredEntry entry) {
        return entry.image().map(image -> readable.of(entry.table(), image));
    }

    @Override
    public Optional<Map<String, Object>> altered(StoredEntry entry) {
        return entry.alteration().map(image -> readable.of(entry.table(), image));
    }
}
