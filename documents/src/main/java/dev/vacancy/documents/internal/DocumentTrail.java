package dev.vacancy.documents.internal;

import com.mongodb.client.FindIterable;
import com.mongodb.client.MongoCollection;
import com.mongodb.client.MongoCursor;
import com.mongodb.client.MongoDatabase;
import com.mongodb.client.model.Accumulators;
import com.mongodb.client.model.Aggregates;
import com.mongodb.client.model.Filters;
import com.mongodb.client.model.Projections;
import com.mongodb.client.model.Sorts;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.EntriesAsked;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.HoldsInForce;
import dev.vacancy.internal.trail.RecordHistory;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.RunsAsked;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailStore;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.rule.Trail;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import org.bson.BsonDocument;
import org.bson.BsonInt64;
import org.bson.BsonString;
import org.bson.conversions.Bson;

/**
 * A trail in two collections, to be read: runs by their places in the chain, and entries.
 *
 * @param database the database
 * @param trail the names of the collections
 */
record DocumentTrail(MongoDatabase database, Trail trail) implements TrailStore {
    /** What the document at place 0 says; a later version of the collections says another. */
    static final BsonDocument BEGINNING =
            new BsonDocument(DocumentQuery.ID, new BsonInt64(0)).append("version", new BsonString("trail 3"));

    /** How many entries with content are read at once. */
    private static final int PORTION = 100;

    private static final Bson IN_ORDER = Sorts.ascending(EntryDocument.RUN, EntryDocument.STEP, EntryDocument.PLACE);

    /** Where the runs are. */
    MongoCollection<BsonDocument> runs() {
        return database.getCollection(trail.runs(), BsonDocument.class);
    }

    /** Where the entries are. */
    MongoCollection<BsonDocument> entries() {
        return database.getCollection(trail.entries(), BsonDocument.class);
    }

    /** What must not go: the holds that nobody has lifted. */
    HoldsInForce holdsInForce() {
        List<StoredRun> placed = new ArrayList<>();
        Set<UUID> lifted = new HashSet<>();
        Bson kinds =
                Filters.in(RunDocument.KIND, RunKind.HOLD.word(), RunKind.STANDING_HOLD.word(), RunKind.LIFT.word());
        long place = 0;
        for (BsonDocument document : runs().find(kinds).sort(Sorts.ascending(DocumentQuery.ID))) {
            StoredRun run = RunDocument.run(document);
            place = run.place();
            if (run.facts().kind() == RunKind.LIFT) {
                run.facts().about().ifPresent(lifted::add);
            } else {
                placed.add(run);
            }
        }
        placed.removeIf(hold -> lifted.contains(hold.facts().runId()));
        return new HoldsInForce(placed, place);
    }

    /** How many of some records a hold is of. */
    long countHeld(UUID hold, String table, Collection<String> keys) {
        return entries()
                .countDocuments(Filters.and(
                        Filters.in(EntryDocument.KEY, keys),
                        Filters.eq(EntryDocument.TABLE, table),
                        Filters.eq(EntryDocument.RUN, RunNumber.of(hold)),
                        Filters.eq(EntryDocument.ACTION, Action.HELD.word())));
    }

    @Override
    public boolean hasBeginning() {
        return BEGINNING.equals(runs().find(Filters.eq(DocumentQuery.ID, 0L)).first());
    }

    @Override
    public List<StoredRun> runs(RunsAsked asked) {
        List<Bson> which = new ArrayList<>(List.of(Filters.gt(DocumentQuery.ID, 0L)));
        asked.run()
                .map(UUID::toString)
                .ifPresent(run ->
                        which.add(Filters.or(Filters.eq(RunDocument.RUN, run), Filters.eq(RunDocument.PART_OF, run))));
        asked.actor().ifPresent(actor -> which.add(Filters.eq(RunDocument.ACTOR, actor)));
        asked.about().ifPresent(run -> which.add(Filters.eq(RunDocument.ABOUT, run.toString())));
        asked.from().ifPresent(from -> which.add(Filters.gte(RunDocument.AT, TrailTables.text(from))));
        asked.until().ifPresent(until -> which.add(Filters.lt(RunDocument.AT, TrailTables.text(until))));
        asked.table().ifPresent(table -> which.add(Filters.eq(RunDocument.TABLE, table)));
        if (!asked.untold().isEmpty()) {
            which.add(Filters.nin(RunDocument.TABLE, asked.untold()));
        }
        asked.entries().ifPresent(of -> which.add(having(of)));
        FindIterable<BsonDocument> found = runs().find(Filters.and(which))
                .sort(asked.newestFirst() ? Sorts.descending(DocumentQuery.ID) : Sorts.ascending(DocumentQuery.ID))
                .skip(asked.skipped())
                .limit(asked.most() == Integer.MAX_VALUE ? 0 : asked.most());
        List<StoredRun> runs = new ArrayList<>();
        found.forEach(document -> runs.add(RunDocument.run(document)));
        return runs;
    }

    private Bson having(RunsAsked.EntriesOf of) {
        if (of.table().isEmpty()) {
            return Filters.gt(RunDocument.ENTRIES, 0L);
        }
        List<Bson> which = new ArrayList<>(
                List.of(Filters.eq(EntryDocument.TABLE, of.table().get())));
        of.key().ifPresent(key -> which.add(Filters.eq(EntryDocument.KEY, key)));
        return Filters.in(RunDocument.NUMBER, numbers(Filters.and(which)));
    }

    /** The runs that entries are of, however many: grouped, as a list of distinct values has to fit into one answer. */
    Set<Long> numbers(Bson which) {
        Set<Long> numbers = new HashSet<>();
        entries()
                .aggregate(List.of(Aggregates.match(which), Aggregates.group("$" + EntryDocument.RUN)))
                .forEach(group -> numbers.add(group.getInt64(DocumentQuery.ID).getValue()));
        return numbers;
    }

    @Override
    public Optional<StoredRun> run(long number) {
        return Optional.ofNullable(
                        runs().find(Filters.eq(RunDocument.NUMBER, number)).first())
                .map(RunDocument::run);
    }

    @Override
    public Optional<StoredRun> runAt(long place) {
        return Optional.ofNullable(
                        runs().find(Filters.eq(DocumentQuery.ID, place)).first())
                .map(RunDocument::run);
    }

    @Override
    public OptionalLong placeAfter(long place) {
        BsonDocument next = runs().find(Filters.gt(DocumentQuery.ID, Math.max(0, place)))
                .sort(Sorts.ascending(DocumentQuery.ID))
                .projection(Projections.include(DocumentQuery.ID))
                .first();
        return next == null
                ? OptionalLong.empty()
                : OptionalLong.of(next.getInt64(DocumentQuery.ID).getValue());
    }

    @Override
    public Optional<StoredRun> lastPruning() {
        return Optional.ofNullable(runs().find(Filters.eq(RunDocument.KIND, RunKind.AGEING.word()))
                        .sort(Sorts.descending(DocumentQuery.ID))
                        .first())
                .map(RunDocument::run);
    }

    @Override
    public List<String> tablesOfRuns() {
        List<String> tables = new ArrayList<>();
        runs().distinct(RunDocument.TABLE, Filters.gt(DocumentQuery.ID, 0L), String.class)
                .forEach(tables::add);
        return tables;
    }

    /** The runs of a bulk run, the last one first. */
    List<UUID> partsOf(UUID bulkRun) {
        List<UUID> parts = new ArrayList<>();
        runs().find(Filters.eq(RunDocument.PART_OF, bulkRun.toString()))
                .sort(Sorts.descending(DocumentQuery.ID))
                .forEach(run -> parts.add(UUID.fromString(RunDocument.text(run, RunDocument.RUN))));
        return parts;
    }

    /** Entries of records that aren't erased. */
    List<StoredEntry> entriesOf(Bson which) {
        List<StoredEntry> entries = new ArrayList<>();
        Bson ofRecords = Filters.nin(EntryDocument.ACTION, Action.ERASED.word(), Action.MASKED.word());
        entriesWhere(Filters.and(which, ofRecords)).map(EntryDocument::entry).forEach(entry -> {
            if (!entry.isErased()) {
                entries.add(entry);
            }
        });
        return entries;
    }

    /** Entries in their order. */
    FindIterable<BsonDocument> entriesWhere(Bson which) {
        return entries().find(which).sort(IN_ORDER).batchSize(PORTION);
    }

    @Override
    public List<EntryReader.StepOf> steps(UUID run) {
        long number = RunNumber.of(run);
        List<EntryReader.StepOf> steps = new ArrayList<>();
        int last = -1;
        while (true) {
            BsonDocument first = entriesWhere(
                            Filters.and(Filters.eq(EntryDocument.RUN, number), Filters.gt(EntryDocument.STEP, last)))
                    .projection(Projections.include(EntryDocument.STEP, EntryDocument.TABLE, EntryDocument.ACTION))
                    .first();
            if (first == null) {
                return steps;
            }
            last = first.getInt32(EntryDocument.STEP).getValue();
            steps.add(new EntryReader.StepOf(
                    last,
                    RunDocument.text(first, EntryDocument.TABLE),
                    Action.of(RunDocument.text(first, EntryDocument.ACTION))));
        }
    }

    @Override
    public List<StoredEntry> entries(EntriesAsked asked, int most, long skipped) {
        List<Bson> which = new ArrayList<>(List.of(
                Filters.eq(EntryDocument.RUN, asked.run()),
                Filters.ne(EntryDocument.ACTION, Action.AGED.word()),
                Filters.ne(EntryDocument.ABOUT + "." + EntryDocument.STEP, 0)));
        asked.table().ifPresent(table -> which.add(Filters.eq(EntryDocument.TABLE, table)));
        asked.key().ifPresent(key -> which.add(Filters.eq(EntryDocument.KEY, key)));
        if (!asked.untold().isEmpty()) {
            which.add(Filters.nin(EntryDocument.TABLE, asked.untold()));
        }
        List<StoredEntry> entries = new ArrayList<>();
        entriesWhere(Filters.and(which))
                .skip((int) Math.min(skipped, Integer.MAX_VALUE))
                .limit(most)
                .forEach(document -> entries.add(EntryDocument.entry(document)));
        return entries;
    }

    @Override
    public void each(long run, Consumer<List<StoredEntry>> portions) {
        eachWhere(Filters.eq(EntryDocument.RUN, run), portions);
    }

    /** Reads the entries of a step, some at a time. */
    void each(UUID run, int step, Consumer<List<StoredEntry>> portions) {
        eachWhere(
                Filters.and(Filters.eq(EntryDocument.RUN, RunNumber.of(run)), Filters.eq(EntryDocument.STEP, step)),
                portions);
    }

    private void eachWhere(Bson which, Consumer<List<StoredEntry>> portions) {
        List<StoredEntry> portion = new ArrayList<>();
        try (MongoCursor<BsonDocument> cursor = entriesWhere(which).cursor()) {
            while (cursor.hasNext()) {
                portion.add(EntryDocument.entry(cursor.next()));
                if (portion.size() == PORTION) {
                    portions.accept(portion);
                    portion = new ArrayList<>();
                }
            }
        }
        if (!portion.isEmpty()) {
            portions.accept(portion);
        }
    }

    @Override
    public List<StoredRun> runsAfter(long place, int most) {
        List<StoredRun> runs = new ArrayList<>();
        runs().find(Filters.gt(DocumentQuery.ID, place))
                .sort(Sorts.ascending(DocumentQuery.ID))
                .limit(most)
                .forEach(document -> runs.add(RunDocument.run(document)));
        return runs;
    }

    /** The place of the last run, or 0. */
    long lastPlace() {
        BsonDocument last =
                runs().find().sort(Sorts.descending(DocumentQuery.ID)).first();
        return last == null ? 0 : last.getInt64(DocumentQuery.ID).getValue();
    }

    @Override
    public List<StoredEntry> entriesAfter(UUID run, int step, long place, int most) {
        List<StoredEntry> entries = new ArrayList<>();
        entriesWhere(Filters.and(
                        Filters.eq(EntryDocument.RUN, RunNumber.of(run)),
                        Filters.eq(EntryDocument.STEP, step),
                        Filters.gt(EntryDocument.PLACE, place)))
                .limit(most)
                .forEach(document -> entries.add(EntryDocument.entry(document)));
        return entries;
    }

    @Override
    public void eachUndone(UUID restore, Consumer<Reference> each) {
        entriesWhere(Filters.and(
                        Filters.eq(EntryDocument.RUN, RunNumber.of(restore)),
                        Filters.eq(EntryDocument.ACTION, Action.RESTORED.word())))
                .projection(Projections.include(EntryDocument.ABOUT))
                .forEach(document -> each.accept(EntryDocument.about(document)));
    }

    @Override
    public Map<Reference, StoredEntry> originals(List<StoredEntry> entries) {
        List<BsonString> ids = entries.stream()
                .filter(entry -> entry.about() != null)
                .map(entry -> EntryDocument.id(entry.about()))
                .toList();
        Map<Reference, StoredEntry> originals = new HashMap<>();
        entries()
                .find(Filters.in(DocumentQuery.ID, ids))
                .map(EntryDocument::entry)
                .forEach(entry -> originals.put(entry.reference(), entry));
        return originals;
    }

    @Override
    public Optional<StoredEntry> entry(Reference reference) {
        return Optional.ofNullable(entries()
                        .find(Filters.eq(DocumentQuery.ID, EntryDocument.id(reference)))
                        .first())
                .map(EntryDocument::entry);
    }

    @Override
    public Optional<StoredEntry> pointer(long eraser, Reference about) {
        return Optional.ofNullable(entries()
                        .find(Filters.and(
                                Filters.eq(EntryDocument.RUN, eraser),
                                Filters.in(EntryDocument.ACTION, Action.ERASED.word(), Action.MASKED.word()),
                                Filters.eq(EntryDocument.ABOUT, EntryDocument.reference(about))))
                        .first())
                .map(EntryDocument::entry);
    }

    @Override
    public List<StoredEntry> pruned(long place) {
        List<StoredEntry> pruned = new ArrayList<>();
        entriesWhere(Filters.and(
                        Filters.eq(EntryDocument.KEY, String.valueOf(place)),
                        Filters.eq(EntryDocument.ACTION, Action.AGED.word())))
                .forEach(document -> pruned.add(EntryDocument.entry(document)));
        return pruned;
    }

    @Override
    public Map<Long, Long> erasures() {
        Map<Long, Long> erasures = new LinkedHashMap<>();
        entries()
                .aggregate(List.of(
                        Aggregates.match(Filters.gt(EntryDocument.ERASED_BY, Long.MIN_VALUE)),
                        Aggregates.group("$" + EntryDocument.ERASED_BY, Accumulators.sum("count", 1L))))
                .forEach(group -> erasures.put(
                        group.getInt64(DocumentQuery.ID).getValue(),
                        group.getNumber("count").longValue()));
        return erasures;
    }

    @Override
    public Set<Long> underWay() {
        return Intention.open(database).stream().map(RunNumber::of).collect(Collectors.toSet());
    }

    /** A run under way is no stranger: its line comes last, and then nothing of it is open any more. So what is open is looked for before the lines. */
    @Override
    public List<Long> strangers() {
        Set<Long> named = numbers(Filters.empty());
        named.removeAll(underWay());
        List<Long> strangers = new ArrayList<>();
        for (List<Long> some : Portions.of(named)) {
            Set<Long> known = places(Set.copyOf(some)).keySet();
            some.stream().filter(run -> !known.contains(run)).forEach(strangers::add);
        }
        // What was taken back meanwhile is gone.
        strangers.removeIf(
                run -> entries().find(Filters.eq(EntryDocument.RUN, run)).first() == null);
        return strangers;
    }

    @Override
    public Map<Long, Long> places(Set<Long> numbers) {
        Map<Long, Long> places = new HashMap<>();
        runs().find(Filters.and(Filters.in(RunDocument.NUMBER, numbers), Filters.gt(DocumentQuery.ID, 0L)))
                .projection(Projections.include(RunDocument.NUMBER))
                .forEach(run -> places.put(
                        run.getInt64(RunDocument.NUMBER).getValue(),
                        run.getInt64(DocumentQuery.ID).getValue()));
        return places;
    }

    @Override
    public List<RecordHistory.Mention> mentions(String table, List<String> keys, boolean whole) {
        List<Bson> which = new ArrayList<>(List.of(
                Filters.eq(EntryDocument.TABLE, table),
                Filters.in(EntryDocument.KEY, keys),
                Filters.in(
                        EntryDocument.ACTION,
                        Action.DELETED.word(),
                        Action.PURGED.word(),
                        Action.MARKED.word(),
                        Action.RESTORED.word())));
        if (whole) {
            which.add(Filters.ne(EntryDocument.CONTENT, null));
        }
        List<RecordHistory.Mention> mentions = new ArrayList<>();
        entries()
                .find(Filters.and(which))
                .projection(Projections.exclude(EntryDocument.CONTENT))
                .forEach(document -> mentions.add(new RecordHistory.Mention(
                        EntryDocument.reference(document),
                        Action.of(RunDocument.text(document, EntryDocument.ACTION)),
                        RunDocument.text(document, EntryDocument.KEY),
                        Optional.ofNullable(EntryDocument.about(document)))));
        return mentions;
    }

    @Override
    public Optional<Map<String, Object>> content(StoredEntry entry) {
        return Optional.ofNullable(entry.content()).map(ContentText::read).map(Values::shown);
    }

    @Override
    public Optional<Map<String, Object>> altered(StoredEntry entry) {
        return Optional.ofNullable(entry.altered()).map(ContentText::read).map(Values::shown);
    }
}
