package dev.vacancy.documents.internal;

import com.mongodb.client.model.Filters;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.follow.FollowUpHandlers;
import dev.vacancy.internal.restoring.RecordInTrail;
import dev.vacancy.internal.restoring.TracedEntries;
import dev.vacancy.internal.restoring.Undoing;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.UUID;
import java.util.stream.Stream;
import org.bson.BsonString;
import org.bson.conversions.Bson;

/** Looks where the trail tells of a document, or names it. */
final class DocumentTraces {
    private final DocumentTrail trail;
    private final Rules rules;
    private final Clock clock;
    private final Map<Reference, StoredEntry> entries = new LinkedHashMap<>();
    private final Map<String, Set<String>> keys = new HashMap<>();
    private final Set<String> named = new HashSet<>();

    private DocumentTraces(DocumentTrail trail, Rules rules, Clock clock) {
        this.trail = trail;
        this.rules = rules;
        this.clock = clock;
    }

    /**
     * Looks for all that is told of a document.
     *
     * @param trail the trail
     * @param rules say what refers to what
     * @param clock tells what "today" is
     * @param table its collection
     * @param key its key, as the trail spells it
     */
    static DocumentTraces of(DocumentTrail trail, Rules rules, Clock clock, Table table, String key) {
        DocumentTraces traces = new DocumentTraces(trail, rules, clock);
        for (StoredEntry own : traces.add(table.name(), List.of(key))) {
            if (own.action().removes()) {
                traces.addWhatWentWith(own);
            }
        }
        traces.addWhatNames(table, key);
        return traces;
    }

    private List<StoredEntry> add(String table, Collection<String> keys) {
        List<StoredEntry> found = new ArrayList<>();
        for (List<String> some : Portions.of(keys)) {
            found.addAll(trail.entriesOf(
                    Filters.and(Filters.eq(EntryDocument.TABLE, table), Filters.in(EntryDocument.KEY, some))));
        }
        found.forEach(this::keep);
        return found;
    }

    private void keep(StoredEntry entry) {
        entries.put(entry.reference(), entry);
        if (entry.key() != null) {
            keys.computeIfAbsent(entry.table(), none -> new HashSet<>()).add(entry.key());
        }
    }

    private void addWhatWentWith(StoredEntry own) {
        RecordInTrail record = new RecordInTrail(own.table(), own.key());
        Undoing undoing = new Undoing(
                rules, clock, together(own.run()), Optional.of(record), reference -> false, FollowUpHandlers.NONE);
        Set<Reference> chosen = new TreeSet<>(ChosenDocument.of(trail, undoing, record)
                .map(ChosenDocument::entries)
                .orElse(Set.of()));
        chosen.removeAll(entries.keySet());
        Map<String, Set<String>> gone = new TreeMap<>();
        for (List<Reference> some : Portions.of(chosen)) {
            List<BsonString> ids = some.stream().map(EntryDocument::id).toList();
            for (StoredEntry found : trail.entriesOf(Filters.in(DocumentQuery.ID, ids))) {
                keep(found);
                if (found.action().removes() && found.key() != null) {
                    gone.computeIfAbsent(found.table(), none -> new TreeSet<>()).add(found.key());
                }
            }
        }
        gone.forEach(this::add);
    }

    /** The chunks of a bulk run take what belongs together in several runs. */
    private List<UUID> together(long number) {
        Optional<StoredRun> run = trail.run(number);
        Optional<UUID> whole = run.flatMap(found -> found.facts().partOf());
        return whole.map(trail::partsOf)
                .orElseGet(
                        () -> run.map(found -> List.of(found.facts().runId())).orElse(List.of()));
    }

    /** What refers to a document, or did, has its key, whenever it went. Where the key tells of the document that is a trace of it as well. */
    private void addWhatNames(Table table, String key) {
        if (KeyText.isSurrogate(key) || !named.add(table.name() + " " + key)) {
            return;
        }
        for (Link link : rules.catalog().linksTo(table)) {
            if (link.parentColumns().equals(table.identity())) {
                List<StoredEntry> naming =
                        trail
                                .entriesOf(Filters.eq(
                                        EntryDocument.TABLE, link.child().name()))
                                .stream()
                                .filter(entry -> !entries.containsKey(entry.reference()) && names(entry, link, key))
                                .toList();
                naming.forEach(this::keep);
                naming.stream()
                        .filter(entry -> entry.key() != null)
                        .forEach(entry -> addWhatNames(link.child(), entry.key()));
            }
        }
    }

    private static boolean names(StoredEntry entry, Link link, String key) {
        return Stream.of(Optional.ofNullable(entry.content()), Optional.ofNullable(entry.altered()))
                .flatMap(Optional::stream)
                .map(ContentText::read)
                .flatMap(document ->
                        Paths.values(document, link.childColumns().get(0).storedName()).stream())
                .anyMatch(value -> KeyText.of(value).equals(key));
    }

    /** The entries that tell of it. */
    List<StoredEntry> entries() {
        return new ArrayList<>(entries.values());
    }

    /** Whether a document is among those that it tells of. */
    boolean tellsOf(String table, String key) {
        return keys.getOrDefault(table, Set.of()).contains(key);
    }

    /** The runs whose selection is of such documents, and what lifted the holds among them. */
    List<StoredRun> runs() {
        Set<String> names = new TreeSet<>();
        Set<Long> numbers = new TreeSet<>();
        entries.values().forEach(entry -> {
            names.add(entry.table());
            numbers.add(entry.run());
        });
        List<StoredRun> runs = new ArrayList<>();
        for (Long number : numbers) {
            trail.run(number)
                    .filter(found -> names.contains(found.facts().table()) && !found.isErased())
                    .ifPresent(found -> {
                        runs.add(found);
                        if (found.facts().kind().holds()) {
                            runs.addAll(lifts(found));
                        }
                    });
        }
        return runs;
    }

    private List<StoredRun> lifts(StoredRun hold) {
        Bson lift = Filters.and(
                Filters.eq(RunDocument.KIND, RunKind.LIFT.word()),
                Filters.eq(RunDocument.ABOUT, hold.facts().runId().toString()));
        List<StoredRun> lifts = new ArrayList<>();
        trail.runs().find(lift).map(RunDocument::run).forEach(run -> {
            if (!run.isErased()) {
                lifts.add(run);
            }
        });
        return lifts;
    }

    /** What an erasure would be of. */
    TracedEntries found(Table table, String key) {
        Map<String, Long> counts = new TreeMap<>();
        entries.values().stream()
                .filter(entry -> entry.content() != null)
                .forEach(entry -> counts.merge(entry.table(), 1L, Long::sum));
        return new TracedEntries(
                entries.keySet(),
                Set.copyOf(runs().stream().map(StoredRun::number).toList()),
                counts,
                trail.holdsInForce().runs().stream()
                        .filter(hold -> isHeldBy(hold, table, key))
                        .toList(),
                Optional.of(key).filter(KeyText::isSurrogate));
    }

    /** Whether documents met the criteria of a standing hold, nobody can tell from the trail. */
    private boolean isHeldBy(StoredRun hold, Table table, String key) {
        String held = hold.facts().table();
        Set<String> told = new HashSet<>(keys.getOrDefault(held, Set.of()));
        if (table.name().equals(held)) {
            told.add(key);
        }
        boolean standing = hold.facts().kind() == RunKind.STANDING_HOLD;
        return standing
                ? !told.isEmpty()
                : Portions.of(told).stream()
                        .anyMatch(some -> trail.countHeld(hold.facts().runId(), held, some) > 0);
    }
}
