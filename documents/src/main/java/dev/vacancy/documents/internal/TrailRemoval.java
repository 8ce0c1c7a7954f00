package dev.vacancy.documents.internal;

import com.mongodb.client.MongoDatabase;
import com.mongodb.client.model.Filters;
import com.mongodb.client.model.Sorts;
import dev.vacancy.StalePlanException;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.restoring.TracedEntries;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.Redeemed;
import dev.vacancy.internal.trail.Action;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.PrunedRun;
import dev.vacancy.internal.trail.Reference;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailTables;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.bson.conversions.Bson;

/**
 * Takes something out of the trail: what it says of a document, or its oldest runs.
 *
 * @param database the database
 * @param clock tells when something was heard of it last
 * @param rules the rules, with the trail
 */
record TrailRemoval(MongoDatabase database, Clock clock, Rules rules) {
    private DocumentTrail trail() {
        return new DocumentTrail(database, rules.recording().orElseThrow().trail());
    }

    private DocumentTraces traces(Table table, String key) {
        return DocumentTraces.of(trail(), rules, clock, table, key);
    }

    TracedEntries traced(Table table, String key) {
        return traces(table, key).found(table, key);
    }

    /** Erases all that is told of a document, all or nothing; what was erased is told entry by entry, and so can be verified. */
    void erase(Table table, String key, TracedEntries expected, RunFacts facts, Optional<Redeemed> redeemed) {
        Ending.Told told = new Ending.Told(trail(), facts);
        Ending ending = new Ending(facts.runId(), Optional.of(told), redeemed, Optional.empty());
        new IntendedRun(database, clock, facts.actor(), ending)
                .carryOut(
                        intention -> {
                            DocumentTraces traces = traces(table, key);
                            if (!traces.found(table, key).equals(expected)) {
                                throw new StalePlanException(List.of("the trail tells more or less of it by now"));
                            }
                            RunEntries entries =
                                    new RunEntries(trail(), rules.recording().orElseThrow(), facts.runId());
                            traces.entries().forEach(entry -> erase(entry, facts, intention, entries));
                            List<StoredRun> runs = traces.runs();
                            runs.forEach(run -> erase(run, facts, intention, entries));
                            new BulkDocuments(database, clock)
                                    .erase(
                                            runs.stream()
                                                    .flatMap(run -> run.facts().partOf().stream())
                                                    .collect(Collectors.toSet()),
                                            traces::tellsOf,
                                            intention::add);
                            entries.flush();
                        },
                        () -> traced(table, key).equals(expected));
    }

    private void erase(StoredEntry entry, RunFacts facts, Intention intention, RunEntries entries) {
        String kept = entry.key() != null && KeyText.isSurrogate(entry.key()) ? entry.key() : null;
        StoredEntry left = entry.erased(kept, RunNumber.of(facts.runId()));
        intention.add(Change.update(trail().trail().entries(), EntryDocument.of(entry), EntryDocument.of(left)));
        entries.addErased(EntryReader.OF_ENTRIES, Action.ERASED, entry.table(), kept, left.remains(), left.reference());
    }

    private void erase(StoredRun run, RunFacts facts, Intention intention, RunEntries entries) {
        StoredRun left = run.withoutSelection(RunNumber.of(facts.runId()));
        intention.add(Change.update(trail().trail().runs(), RunDocument.of(run), RunDocument.of(left)));
        entries.addErased(EntryReader.OF_RUNS, Action.ERASED, facts.table(), null, null, Reference.toRun(run.number()));
    }

    /**
     * Removes the oldest runs. That they go is told before they do, so that whoever is cut off leaves a trail that says where it begins; what is left of them
     * is removed by whoever comes next.
     *
     * @param before what happened before goes
     * @param facts what is said of it, given the runs that go
     * @return how many went
     */
    long prune(Instant before, Function<List<StoredRun>, RunFacts> facts) {
        new TrailWriting(trail()).forgetPruned();
        List<StoredRun> old = old(before);
        if (old.isEmpty()) {
            return 0;
        }
        RunFacts told = facts.apply(old);
        RunEntries entries = new RunEntries(trail(), rules.recording().orElseThrow(), told.runId());
        old.forEach(run -> entries.addPruned(new PrunedRun(run.place(), run.digest())));
        entries.flush();
        TrailWriting writing = new TrailWriting(trail());
        writing.append(told);
        writing.forgetPruned();
        return old.size();
    }

    /** A hold that nobody has lifted stays, as does what is told of a held document, with all that came after. */
    private List<StoredRun> old(Instant before) {
        Set<Long> held = held();
        List<StoredRun> old = new ArrayList<>();
        Bson which =
                Filters.and(Filters.gt(DocumentQuery.ID, 0L), Filters.lt(RunDocument.AT, TrailTables.text(before)));
        for (var document : trail().runs().find(which).sort(Sorts.ascending(DocumentQuery.ID))) {
            StoredRun run = RunDocument.run(document);
            boolean next = old.isEmpty() || old.get(old.size() - 1).place() + 1 == run.place();
            if (!next || held.contains(run.number())) {
                break;
            }
            old.add(run);
        }
        return old;
    }

    private Set<Long> held() {
        Set<Long> held = new HashSet<>();
        for (StoredRun hold : trail().holdsInForce().runs()) {
            held.add(hold.number());
            trail().each(
                            hold.number(),
                            portion -> portion.stream()
                                    .collect(Collectors.groupingBy(
                                            StoredEntry::table,
                                            Collectors.mapping(StoredEntry::key, Collectors.toSet())))
                                    .forEach((table, keys) -> held.addAll(trail().numbers(Filters.and(
                                            Filters.eq(EntryDocument.TABLE, table),
                                            Filters.in(EntryDocument.KEY, keys))))));
        }
        return held;
    }
}
