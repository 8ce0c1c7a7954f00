package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Table;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.history.TrailRun;
import dev.vacancy.history.Verification;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.store.Part;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.Audit;
import dev.vacancy.internal.trail.EntriesByKey;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.ReadableImage;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/** What the audit trail tells, as it is asked. */
final class TrailReading {
    private static final int MOST_AT_ONCE = 1_000;

    private final DatabaseCatalog catalog;
    private final TrailTables tables;
    private final EntryReader reader;
    private final ReadableImage readable;
    private final Transactions transactions;

    TrailReading(DatabaseCatalog catalog, TrailTables tables, Transactions transactions) {
        this.catalog = catalog;
        this.tables = tables;
        this.reader = new EntryReader(tables);
        this.readable = new ReadableImage(catalog);
        this.transactions = transactions;
    }

    /** Tells runs of some tables only, as many as the query wants of those. */
    List<TrailRun> runs(HistoryQuery query, Predicate<String> visible) {
        Asked asked = Asked.of(query);
        query.table().ifPresent(table -> asked.and("table_name = ?", table));
        return transactions.reading(connection -> {
            List<String> untold = tables.tablesOfRuns(connection).stream()
                    .filter(table -> !visible.test(table))
                    .toList();
            untold.forEach(table -> asked.and("table_name <> ?", table));
            return tables
                    .runs(
                            connection,
                            asked.words() + " order by place desc limit " + query.most() + " offset " + query.skipped(),
                            asked.values.toArray())
                    .stream()
                    .map(PublicForm::run)
                    .toList();
        });
    }

    /** What is asked, as SQL and its values. */
    private static final class Asked {
        private final List<String> parts = new ArrayList<>(List.of("1 = 1"));
        private final List<Object> values = new ArrayList<>();

        /** Which runs, but for what was selected by them. */
        static Asked of(HistoryQuery query) {
            Asked asked = new Asked();
            query.run().ifPresent(run -> asked.and("(run_id = ? or part_of = ?)", run.toString(), run.toString()));
            query.actor().ifPresent(actor -> asked.and("actor = ?", actor));
            query.from().ifPresent(from -> asked.and("happened_at >= ?", TrailTables.text(from)));
            query.until().ifPresent(until -> asked.and("happened_at < ?", TrailTables.text(until)));
            return asked;
        }

        /** The entries of a run, or some of them. */
        static Asked entries(StoredRun run, Optional<String> table, Optional<String> key, List<String> untold) {
            Asked asked = new Asked();
            asked.and("run_no = ?", run.number());
            // What was erased from a run's words and which runs were aged away belongs to the verification.
            asked.and("action <> 'aged' and (about_step is null or about_step > 0)");
            table.ifPresent(name -> asked.and("table_name = ?", name));
            key.ifPresent(text -> asked.and("record_key = ?", text));
            untold.forEach(name -> asked.and("table_name <> ?", name));
            return asked;
        }

        void and(String part, Object... bound) {
            parts.add(part);
            values.addAll(List.of(bound));
        }

        String words() {
            return String.join(" and ", parts);
        }
    }

    /** Tells some entries only, as many as the query wants of those. */
    List<TrailEntry> entries(HistoryQuery query, Predicate<String> mayTell, Predicate<TrailEntry> mayKnow) {
        Optional<String> table = query.table().map(this::tableName);
        return transactions.reading(connection -> {
            Part<TrailEntry> entries = new Part<>(query.skipped(), query.most());
            for (StoredRun run : matching(connection, query, "desc")) {
                if (entries.isFull()) {
                    break;
                }
                List<String> untold = reader.steps(connection, run.facts().runId()).stream()
                        .map(EntryReader.StepOf::table)
                        .distinct()
                        .filter(name -> !mayTell.test(name))
                        .toList();
                Asked asked = Asked.entries(run, table, query.key(), untold);
                int portion = (int) Math.min(MOST_AT_ONCE, (long) query.skipped() + query.most());
                List<StoredEntry> read;
                int place = 0;
                do {
                    read = reader.read(
                            connection,
                            asked.words() + " order by run_no, step, place limit " + portion + " offset " + place,
                            asked.values.toArray());
                    visible(connection, read, run).stream()
                            .filter(entry ->
                                    query.key().map(entry.key()::equals).orElse(true))
                            .filter(mayKnow)
                            .forEach(entries::add);
                    place += portion;
                } while (read.size() == portion && !entries.isFull());
            }
            return entries.list();
        });
    }

    /** A record's table may be called by any of its names; of one that is gone, by the name that it had. */
    private String tableName(String given) {
        return catalog.tables().stream()
                .filter(table -> table.name().equalsIgnoreCase(given))
                .map(Table::name)
                .findFirst()
                .orElse(given);
    }

    /** The runs that a query is about; where it names a record, only those that have an entry of it. */
    private List<StoredRun> matching(Connection connection, HistoryQuery query, String order) throws SQLException {
        Asked asked = Asked.of(query);
        if (query.table().isPresent() && query.key().isPresent()) {
            String numbers = new EntriesByKey(reader)
                            .runsOf(
                                    connection,
                                    tableName(query.table().get()),
                                    query.key().get())
                            .stream()
                            .map(String::valueOf)
                            .collect(Collectors.joining(", "));
            asked.and(numbers.isEmpty() ? "1 = 0" : "run_no in (" + numbers + ")");
        } else if (query.table().isPresent()) {
            asked.and(
                    "run_no in (select e.run_no from " + tables.entriesName() + " e where e.table_name = ?)",
                    tableName(query.table().get()));
        } else {
            asked.and("entries > 0");
        }
        return tables.runs(connection, asked.words() + " order by place " + order, asked.values.toArray());
    }

    /** What came back was what another entry says. */
    private List<TrailEntry> visible(Connection connection, List<StoredEntry> entries, StoredRun run)
            throws SQLException {
        Map<Reference, StoredEntry> originals =
                run.facts().kind().restores() ? reader.originals(connection, entries) : Map.of();
        return entries.stream()
                .map(entry -> visible(entry, Optional.ofNullable(entry.about()).map(originals::get), run))
                .toList();
    }

    private TrailEntry visible(StoredEntry entry, Optional<StoredEntry> original, StoredRun run) {
        TrailRun whole = PublicForm.run(run);
        return new TrailEntry(
                whole.runId(),
                entry.step(),
                entry.place(),
                entry.word(),
                entry.table(),
                entry.keyText(),
                whole.by(),
                whole.colleague(),
                whole.at(),
                Optional.of(original.orElse(entry))
                        .filter(visible -> visible.action() != Action.ERASED && visible.action() != Action.MASKED)
                        .flatMap(StoredEntry::image)
                        .map(image -> readable.of(entry.table(), image)),
                entry.alteration().map(image -> readable.of(entry.table(), image)));
    }

    /** Reads entries one by one, the oldest first. */
    void each(HistoryQuery query, Consumer<TrailEntry> each) {
        Optional<String> table = query.table().map(this::tableName);
        transactions.<Void>reading(connection -> {
            for (StoredRun run : matching(connection, query, "asc")) {
                UUID id = run.facts().runId();
                for (EntryReader.StepOf step : reader.steps(connection, id)) {
                    reader.each(connection, id, step.number(), portion -> {
                        List<StoredEntry> asked = portion.stream()
                                .filter(StoredEntry::isOfRecord)
                                .filter(entry ->
                                        table.map(entry.table()::equals).orElse(true))
                                .filter(entry ->
                                        query.key().map(entry.keyText()::equals).orElse(true))
                                .toList();
                        visible(connection, asked, run).forEach(each);
                    });
                }
            }
            return null;
        });
    }

    /** Looks at the whole trail. */
    Verification verify(Optional<Verification.Head> kept) {
        return transactions.reading(connection -> {
            Audit audit = new Audit(tables);
            audit.look(
                    connection,
                    kept.map(Verification.Head::place).orElse(0L),
                    kept.map(Verification.Head::digest).orElse(""));
            return new Verification(
                    audit.runs(),
                    audit.entries(),
                    audit.erased(),
                    new Verification.Head(audit.lastPlace(), audit.lastDigest()),
                    audit.faults());
        });
    }
}
