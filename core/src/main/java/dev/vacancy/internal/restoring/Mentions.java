package dev.vacancy.internal.restoring;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.Mention;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.SoughtText;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailTables;
import java.nio.ByteBuffer;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.BiPredicate;
import java.util.stream.Collectors;

/**
 * Where the audit trail has a text. All of it is read for that, run by run, as nothing else finds a text in the middle of others.
 *
 * @since 0.1
 */
public final class Mentions {
    /** What is found is held until it is masked. */
    private static final int MOST = 100_000;

    private static final String KEY = "key";

    private final DatabaseCatalog catalog;
    private final SoughtText sought;
    private final BiPredicate<String, String> columns;
    private final List<InEntry> entries = new ArrayList<>();
    private final List<InRun> runs = new ArrayList<>();

    /**
     * What an entry has of it.
     *
     * @param columns which columns of the record
     * @param whole whether the text can't be masked there without making something else of the rest
     */
    public record InEntry(StoredEntry entry, StoredRun run, List<String> columns, boolean whole) {
        /** Keeps its own copy of the list. */
        public InEntry {
            columns = List.copyOf(columns);
        }

        Mention mention() {
            return new Mention(run.facts().runId(), entry.table(), Optional.of(entry.keyText()), columns, whole);
        }
    }

    /**
     * What the words of a run have of it.
     *
     * @param run the run
     * @param words which words
     */
    public record InRun(StoredRun run, List<String> words) {
        /** Keeps its own copy of the list. */
        public InRun {
            words = List.copyOf(words);
        }

        Mention mention() {
            return new Mention(run.facts().runId(), run.facts().table(), Optional.empty(), words, false);
        }
    }

    private Mentions(DatabaseCatalog catalog, SoughtText sought, BiPredicate<String, String> columns) {
        this.catalog = catalog;
        this.columns = columns;
        this.sought = sought;
    }

    static Mentions of(DatabaseCatalog catalog, TrailTables tables, Connection connection, SoughtText sought)
            throws SQLException {
        return of(catalog, tables, connection, sought, (table, column) -> true);
    }

    /**
     * Looks through the trail, in some columns only.
     *
     * @param catalog what is there
     * @param tables the trail's
     * @param connection an open connection
     * @param sought the text
     * @param columns whether a column is looked through, by the names of table and column; {@code key} for keys
     * @return what was found
     * @throws SQLException when the database doesn't answer
     */
    public static Mentions of(
            DatabaseCatalog catalog,
            TrailTables tables,
            Connection connection,
            SoughtText sought,
            BiPredicate<String, String> columns)
            throws SQLException {
        Mentions found = new Mentions(catalog, sought, columns);
        EntryReader reader = new EntryReader(tables);
        for (StoredRun run : tables.runs(connection, "1 = 1 order by place")) {
            found.look(run);
            if (run.entries() > 0) {
                reader.eachOf(connection, run.number(), portion -> portion.forEach(entry -> found.look(entry, run)));
            }
        }
        return found;
    }

    /** {@return the entries that have it} */
    public List<InEntry> entries() {
        return entries;
    }

    /** {@return the runs whose words have it} */
    public List<InRun> runs() {
        return runs;
    }

    /**
     * Leaves out what goes anyway.
     *
     * @param traces the entries that lose all that they say, and the runs whose selection goes
     */
    public void leaveOut(RecordTraces traces) {
        Set<Reference> erased =
                traces.entries().stream().map(StoredEntry::reference).collect(Collectors.toSet());
        entries.removeIf(in -> erased.contains(in.entry().reference()));
    }

    private void look(StoredRun run) {
        RunFacts facts = run.facts();
        List<String> words = new ArrayList<>();
        if (sought.isIn(facts.actor())) {
            words.add("actor");
        }
        if (facts.colleague().filter(sought::isIn).isPresent()) {
            words.add("colleague");
        }
        if (facts.reason().filter(sought::isIn).isPresent()) {
            words.add("reason");
        }
        if (!run.isErased() && facts.kind().tellsInWords() && sought.isIn(facts.selection())) {
            words.add("selection");
        }
        if (!words.isEmpty()) {
            runs.add(new InRun(run, words));
            requireFew();
        }
    }

    private void look(StoredEntry entry, StoredRun run) {
        // What these say is the trail's own.
        if (List.of(Action.ERASED, Action.MASKED, Action.AGED).contains(entry.action())) {
            return;
        }
        Optional<Table> table = catalog.tables().stream()
                .filter(known -> known.name().equals(entry.table()))
                .findFirst();
        TreeSet<String> places = new TreeSet<>();
        boolean whole = false;
        for (Map<String, Object> image : images(entry)) {
            for (Map.Entry<String, Object> value : image.entrySet()) {
                Optional<Column> column = table.flatMap(known -> known.columns().stream()
                        .filter(each -> each.name().equals(value.getKey()))
                        .findFirst());
                if (columns.test(entry.table(), value.getKey()) && isIn(column, value.getValue())) {
                    places.add(value.getKey());
                    whole |= !(value.getValue() instanceof String)
                            || column.map(ColumnType::of)
                                    .filter(type -> type.isText() || type.isLargeText())
                                    .isEmpty();
                }
            }
        }
        if (columns.test(entry.table(), KEY) && sought.isIn(entry.key())) {
            places.add(KEY);
            whole = true;
        }
        if (!places.isEmpty()) {
            entries.add(new InEntry(entry, run, List.copyOf(places), whole));
            requireFew();
        }
    }

    private static List<Map<String, Object>> images(StoredEntry entry) {
        List<Map<String, Object>> images = new ArrayList<>();
        entry.image().ifPresent(images::add);
        entry.alteration().ifPresent(images::add);
        return images;
    }

    /** Bytes are no text, however they are written down. */
    private boolean isIn(Optional<Column> column, Object value) {
        boolean bytes = value instanceof ByteBuffer
                || column.filter(known -> ColumnType.of(known).isBinary()).isPresent();
        return value != null && !bytes && sought.isIn(value.toString());
    }

    private void requireFew() {
        if (entries.size() + runs.size() > MOST) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "The audit trail has '" + sought + "' in more than " + String.format(Locale.ROOT, "%,d", MOST)
                            + " places.",
                    "Give a longer text, such as a whole name or address.");
        }
    }
}
