package dev.vacancy.documents.internal;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.restoring.Restorable;
import dev.vacancy.internal.restoring.Undoing;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.RecordHistory;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.StoredEntry;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.bson.BsonDocument;
import org.bson.BsonType;
import org.bson.BsonValue;

/** Looks through what runs have done, the last step first, for what can come back and what stands in the way. */
final class Restoring {
    private static final String ANEW = "it was deleted anew, or brought back, since";

    private final DocumentQuery query;
    private final DocumentTrail trail;
    private final Undoing undoing;
    private final Rules rules;
    private final RecordHistory history;
    private final Set<Long> runs;
    private final Obstacles obstacles;
    private final Map<String, Long> counts = new LinkedHashMap<>();
    private final Map<String, Long> putBack = new LinkedHashMap<>();
    private final Set<String> left = new LinkedHashSet<>();
    private Optional<ChosenDocument> chosen = Optional.empty();
    private long before;

    /** Takes what comes back. */
    @FunctionalInterface
    interface Taker {
        /**
         * Takes a document.
         *
         * @param step the number of the step that brings it back, from 1
         * @param change how it comes back
         * @param original the entry that it comes back by; empty where more of that is still away
         */
        void take(int step, Change change, Optional<StoredEntry> original);
    }

    Restoring(DocumentQuery query, DocumentTrail trail, Undoing undoing) {
        this.query = query;
        this.trail = trail;
        this.undoing = undoing;
        this.rules = undoing.rules();
        this.history = new RecordHistory(trail);
        this.runs = undoing.runs().stream().map(RunNumber::of).collect(Collectors.toSet());
        this.obstacles = new Obstacles(query, trail, undoing, runs);
    }

    /** A document that comes back. */
    record Returning(StoredEntry entry, BsonDocument document) {
        BsonValue id() {
            return document.get(DocumentQuery.ID);
        }
    }

    /**
     * Looks, and hands on what comes back.
     *
     * @return what was found; empty if the runs know nothing of the document that is asked for
     */
    Optional<Restorable> look(Taker taker) {
        if (undoing.only().isPresent()) {
            chosen = ChosenDocument.of(trail, undoing, undoing.only().get());
            if (chosen.isEmpty()) {
                return Optional.empty();
            }
            obstacles.only(chosen.get());
        }
        int[] number = {0};
        for (UUID run : undoing.runs()) {
            List<EntryReader.StepOf> steps = new ArrayList<>(trail.steps(run));
            Collections.reverse(steps);
            for (EntryReader.StepOf step : steps) {
                int own = ++number[0];
                trail.each(run, step.number(), portion -> take(own, stillAway(portion), taker));
            }
        }
        if (before > 0) {
            tell(String.format(
                    Locale.ROOT, "%,d %s brought back before.", before, before == 1 ? "record was" : "records were"));
        }
        return Optional.of(new Restorable(counts, putBack, List.copyOf(left), obstacles.conflicts()));
    }

    private List<StoredEntry> stillAway(List<StoredEntry> portion) {
        List<StoredEntry> asked = portion.stream()
                .filter(entry -> chosen.map(only -> only.contains(entry)).orElse(true))
                .toList();
        List<StoredEntry> away = asked.stream()
                .filter(entry -> !undoing.returned().test(entry.reference()))
                .toList();
        before += asked.size() - away.size();
        return away;
    }

    /** The entries of a step are of one table; a document that several steps change stands with the first, so that its action may be another's. */
    private void take(int step, List<StoredEntry> portion, Taker taker) {
        Map<Action, List<StoredEntry>> byAction = new LinkedHashMap<>();
        portion.forEach(entry -> byAction.computeIfAbsent(entry.action(), none -> new ArrayList<>())
                .add(entry));
        byAction.forEach((action, entries) -> {
            String name = entries.get(0).table();
            Optional<Table> table = table(rules.catalog(), name);
            if (table.isEmpty()) {
                entries.forEach(entry -> obstacles.conflict(
                        name, entry.keyText(), "the table isn't there any more", "Make the table again."));
                return;
            }
            List<Returning> returning = returning(table.get(), entries);
            if (!returning.isEmpty()) {
                take(step, table.get(), action, returning, taker);
            }
        });
    }

    static Optional<Table> table(DatabaseCatalog catalog, String name) {
        return catalog.tables().stream()
                .filter(table -> table.name().equals(name))
                .findFirst();
    }

    private List<Returning> returning(Table table, List<StoredEntry> entries) {
        List<Returning> returning = new ArrayList<>();
        for (StoredEntry entry : entries) {
            if (entry.content() == null) {
                tell("The content of " + table + " " + (entry.key() == null ? "(erased)" : entry.key())
                        + " was erased, so it stays away.");
            } else {
                if (entry.isMasked()) {
                    tell(table + " " + entry.keyText() + " comes back with asterisks where a text was masked.");
                }
                returning.add(new Returning(entry, ContentText.read(entry.content())));
            }
        }
        return returning;
    }

    private void take(int step, Table table, Action action, List<Returning> returning, Taker taker) {
        switch (action) {
            case DELETED, PURGED -> {
                insert(table, returning);
                returning.forEach(one -> taker.take(
                        step, Change.insertion(table.storedName(), one.document()), Optional.of(one.entry())));
            }
            case MARKED, DETACHED, REASSIGNED, RESET ->
                put(table, action, returning)
                        .forEach(put -> taker.take(
                                step,
                                put.change(),
                                Optional.of(put.one().entry()).filter(entry -> put.isWhole())));
            case TOUCHED -> tell("Who changed " + table + " last stays as it is.");
            default -> tell("What was " + action.word() + " of " + table + " isn't undone.");
        }
    }

    private void insert(Table table, List<Returning> returning) {
        String withheld = table.columns().stream()
                .filter(column -> undoing.recording().isWithheld(table, column))
                .map(Column::name)
                .collect(Collectors.joining(", "));
        if (!withheld.isEmpty()) {
            tell("What " + table + " had in " + withheld + " stays away: the trail was told to leave it out.");
        }
        obstacles.taken(table, returning);
        obstacles.followers(table, returning);
        obstacles.parents(table, returning, rules.catalog().linksFrom(table));
        counts.merge(table.name(), (long) returning.size(), Long::sum);
    }

    /**
     * A document that gets back what it had.
     *
     * @param one the document as it was
     * @param change how it gets that back
     * @param returned what it gets back, in fields
     * @param isWhole whether that is all that it had
     */
    private record PutBack(Returning one, Change change, BsonDocument returned, boolean isWhole) {}

    /** Those that get something back, as far as they are as the run has left them. */
    private List<PutBack> put(Table table, Action action, List<Returning> returning) {
        boolean marked = action == Action.MARKED;
        Map<Object, BsonDocument> there = new HashMap<>();
        List<BsonValue> ids = returning.stream().map(Returning::id).toList();
        query.find(table, Filters.in(DocumentQuery.ID, ids), null)
                .forEach(document ->
                        there.put(Values.comparable(document.get(DocumentQuery.ID)), Change.unmarked(document)));
        List<String> keys = returning.stream().map(one -> one.entry().keyText()).toList();
        Set<String> gone =
                history.goneSince(table.name(), keys, returning.get(0).entry().run(), runs, marked);
        List<PutBack> put = new ArrayList<>();
        for (Returning one : returning) {
            Optional<BsonDocument> now = Optional.ofNullable(there.get(Values.comparable(one.id())));
            if (isSame(table, one, now, gone.contains(one.entry().keyText()), marked)) {
                put(table, action, one, now.orElseThrow()).ifPresent(put::add);
            }
        }
        if (!put.isEmpty()) {
            count(table, marked, put);
        }
        return put;
    }

    /** Whether it is still the same document; if not, tells what becomes of it. */
    private boolean isSame(Table table, Returning one, Optional<BsonDocument> now, boolean wentSince, boolean marked) {
        if (now.isEmpty() && marked) {
            obstacles.conflict(
                    table.name(),
                    one.entry().keyText(),
                    "it is gone for good",
                    "Restore the run that removed it first.");
        } else if (now.isEmpty()) {
            stays(table, one, "it was deleted since");
        } else if (wentSince) {
            stays(table, one, marked ? ANEW : "it is another record than the one that had this key");
        }
        return now.isPresent() && !wentSince;
    }

    private void stays(Table table, Returning one, String reason) {
        tell(table + " " + one.entry().keyText() + " stays as it is: " + reason + ".");
    }

    private Optional<PutBack> put(Table table, Action action, Returning one, BsonDocument now) {
        Set<String> referring = rules.catalog().linksFrom(table).stream()
                .map(link -> link.childColumns().get(0).storedName())
                .collect(Collectors.toSet());
        Optional<ReturningReferences> references = action == Action.DETACHED
                ? ReturningReferences.of(referring, one.document(), altered(table, one), now)
                : Optional.empty();
        if (references.isPresent()) {
            return put(table, one, references.get(), now);
        }
        boolean marked = action == Action.MARKED;
        if (!isAsLeft(table, one, now)) {
            stays(table, one, marked ? ANEW : "it was changed since");
            return Optional.empty();
        }
        if (isBesideWithheldInArray(table, one, now)) {
            stays(table, one, "beside it in an array lies what the trail was told to leave out");
            return Optional.empty();
        }
        BsonDocument restored = now.clone();
        BsonDocument returned = new BsonDocument(DocumentQuery.ID, one.id());
        altered(table, one).keySet().forEach(name -> {
            Paths.put(restored, name, one.document().get(name));
            Paths.put(returned, name, one.document().get(name));
        });
        withheldIn(table, one)
                .forEach(path -> Optional.ofNullable(Paths.value(now, path))
                        .ifPresent(value -> Paths.put(
                                restored,
                                Paths.first(path),
                                Paths.set(restored.get(Paths.first(path)), Paths.rest(path), value))));
        Change change = Change.update(table.storedName(), now, counted(table, restored));
        return Optional.of(new PutBack(one, change, marked ? one.document() : returned, true));
    }

    /** Of several references only those that mean something come back, beside whatever has come in since. */
    private Optional<PutBack> put(Table table, Returning one, ReturningReferences references, BsonDocument now) {
        Map<String, Set<Object>> away = new HashMap<>();
        for (Link link : links(table, one)) {
            away.computeIfAbsent(Paths.first(link.childColumns().get(0).storedName()), none -> new HashSet<>())
                    .addAll(obstacles.missing(link, references.fields()));
        }
        ReturningReferences found = references.without(away);
        if (found.isNothing()) {
            stays(table, one, references.isNothing() ? "it refers to that again" : "what it referred to is still away");
            return Optional.empty();
        }
        Change change = Change.update(table.storedName(), now, counted(table, found.putInto(now)));
        return Optional.of(new PutBack(one, change, found.fields(), found.isWhole()));
    }

    private void count(Table table, boolean marked, List<PutBack> put) {
        List<Returning> returned = put.stream()
                .map(back -> new Returning(back.one().entry(), back.returned()))
                .toList();
        if (marked) {
            counts.merge(table.name(), (long) put.size(), Long::sum);
            obstacles.followers(table, put.stream().map(PutBack::one).toList());
            obstacles.uniqueWhileActive(table, returned);
            obstacles.parents(table, returned, rules.catalog().linksFrom(table));
        } else {
            put.forEach(back -> putBack.merge(where(table, back.one()), 1L, Long::sum));
            obstacles.parents(table, returned, links(table, put.get(0).one()));
        }
    }

    /** The links by fields that the run has set. */
    private List<Link> links(Table table, Returning one) {
        Set<String> names = altered(table, one).keySet();
        return rules.catalog().linksFrom(table).stream()
                .filter(link ->
                        names.contains(Paths.first(link.childColumns().get(0).storedName())))
                .toList();
    }

    /** As links are called. */
    private String where(Table table, Returning one) {
        Set<String> names = altered(table, one).keySet();
        List<Link> links = rules.catalog().linksFrom(table).stream()
                .filter(link -> link.childColumns().size() == 1
                        && names.equals(
                                Set.of(Paths.first(link.childColumns().get(0).storedName()))))
                .toList();
        return links.size() == 1
                ? links.get(0).where()
                : table + "." + (names.size() == 1 ? names.iterator().next() : "(" + String.join(", ", names) + ")");
    }

    /** What the run has set fields to, but for those that tell of the last change: each change sets these. */
    private BsonDocument altered(Table table, Returning one) {
        BsonDocument altered = ContentText.read(one.entry().altered());
        counting(table).forEach(altered::remove);
        return altered;
    }

    private List<String> counting(Table table) {
        Rules.Modified modified = rules.softness().modified().get(table);
        Stream<Column> stamps =
                modified == null ? Stream.of() : Stream.concat(modified.by().stream(), modified.at().stream());
        return Stream.concat(stamps, version(table).stream())
                .map(column -> Paths.first(column.storedName()))
                .toList();
    }

    private Optional<Column> version(Table table) {
        return Optional.ofNullable(rules.softness().versions().get(table));
    }

    /** What the trail leaves out of the fields that the run has set: it is still in the document. */
    private List<String> withheldIn(Table table, Returning one) {
        Set<String> names = altered(table, one).keySet();
        return table.columns().stream()
                .filter(column -> undoing.recording().isWithheld(table, column))
                .map(Column::storedName)
                .filter(path -> names.contains(Paths.first(path)))
                .toList();
    }

    private boolean isBesideWithheldInArray(Table table, Returning one, BsonDocument now) {
        return withheldIn(table, one).stream().anyMatch(path -> Paths.passesArray(now, path));
    }

    private boolean isAsLeft(Table table, Returning one, BsonDocument now) {
        BsonDocument left = unstamped(table, altered(table, one));
        BsonDocument there = unstamped(table, now);
        return left.entrySet().stream()
                .allMatch(field -> field.getValue().getBsonType() == BsonType.UNDEFINED
                        ? !there.containsKey(field.getKey())
                        : field.getValue().equals(there.get(field.getKey())));
    }

    /** Who marked a document, and why, may be written otherwise by a masking. */
    private BsonDocument unstamped(Table table, BsonDocument document) {
        BsonDocument left =
                RunEntries.without(undoing.recording(), table, document).clone();
        Optional.ofNullable(rules.softness().tables().get(table)).stream()
                .flatMap(soft -> Stream.concat(soft.actorColumn().stream(), soft.reasonColumn().stream()))
                .map(name -> table.column(name).storedName())
                .forEach(path -> Paths.remove(left, path));
        return left;
    }

    private BsonDocument counted(Table table, BsonDocument document) {
        version(table).ifPresent(column -> StepChanges.count(document, column.storedName()));
        return document;
    }

    private void tell(String sentence) {
        if (left.size() < RestorePlan.MOST_CONFLICTS) {
            left.add(sentence);
        }
    }
}
