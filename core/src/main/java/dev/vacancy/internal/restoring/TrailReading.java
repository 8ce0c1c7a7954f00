package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Table;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.history.TrailRun;
import dev.vacancy.history.Verification;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.store.Part;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.Audit;
import dev.vacancy.internal.trail.EntriesAsked;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.RunsAsked;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailStore;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Predicate;

/** What the audit trail tells, as it is asked. */
final class TrailReading {
    private static final int MOST_AT_ONCE = 1_000;

    private final DatabaseCatalog catalog;
    private final TrailAccess access;

    TrailReading(DatabaseCatalog catalog, TrailAccess access) {
        this.catalog = catalog;
        this.access = access;
    }

    /** Tells runs of some tables only, as many as the query wants of those. */
    List<TrailRun> runs(HistoryQuery query, Predicate<String> visible) {
        return access.reading(store -> {
            List<String> untold = store.tablesOfRuns().stream()
                    .filter(table -> !visible.test(table))
                    .toList();
            return store.runs(RunsAsked.of(query).about(query, untold)).stream()
                    .map(PublicForm::run)
                    .toList();
        });
    }

    /** Tells some entries only, as many as the query wants of those. */
    List<TrailEntry> entries(HistoryQuery query, Predicate<String> mayTell, Predicate<TrailEntry> mayKnow) {
        Optional<String> table = query.table().map(this::tableName);
        return access.reading(store -> {
            Part<TrailEntry> entries = new Part<>(query.skipped(), query.most());
            for (StoredRun run : matching(store, query, true)) {
                if (entries.isFull()) {
                    break;
                }
                List<String> untold = store.steps(run.facts().runId()).stream()
                        .map(EntryReader.StepOf::table)
                        .distinct()
                        .filter(name -> !mayTell.test(name))
                        .toList();
                EntriesAsked asked = new EntriesAsked(run.number(), table, query.key(), untold);
                int portion = (int) Math.min(MOST_AT_ONCE, (long) query.skipped() + query.most());
                List<StoredEntry> read;
                long place = 0;
                do {
                    read = store.entries(asked, portion, place);
                    visible(store, read, run).stream()
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
    private List<StoredRun> matching(TrailStore store, HistoryQuery query, boolean newestFirst) {
        Optional<String> table = query.table().map(this::tableName);
        return store.runs(RunsAsked.of(query)
                .withEntries(new RunsAsked.EntriesOf(table, table.flatMap(name -> query.key())), newestFirst));
    }

    /** What came back was what another entry says. */
    private static List<TrailEntry> visible(TrailStore store, List<StoredEntry> entries, StoredRun run) {
        Map<Reference, StoredEntry> originals = run.facts().kind().restores() ? store.originals(entries) : Map.of();
        return entries.stream()
                .map(entry ->
                        visible(store, entry, Optional.ofNullable(entry.about()).map(originals::get), run))
                .toList();
    }

    private static TrailEntry visible(
            TrailStore store, StoredEntry entry, Optional<StoredEntry> original, StoredRun run) {
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
                        .flatMap(store::content),
                store.altered(entry));
    }

    /** Reads entries one by one, the oldest first. */
    void each(HistoryQuery query, Consumer<TrailEntry> each) {
        Optional<String> table = query.table().map(this::tableName);
        access.reading(store -> {
            for (StoredRun run : matching(store, query, false)) {
                store.each(run.number(), portion -> {
                    List<StoredEntry> asked = portion.stream()
                            .filter(StoredEntry::isOfRecord)
                            .filter(entry -> table.map(entry.table()::equals).orElse(true))
                            .filter(entry ->
                                    query.key().map(entry.keyText()::equals).orElse(true))
                            .toList();
                    visible(store, asked, run).forEach(each);
                });
            }
            return true;
        });
    }

    /** Looks at the whole trail. */
    Verification verify(Optional<Verification.Head> kept) {
        return access.reading(store -> {
            Audit audit = new Audit(store);
            audit.look(
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
