package dev.vacancy.documents.internal;

import com.mongodb.client.MongoDatabase;
import com.mongodb.client.model.Filters;
import com.mongodb.client.model.Sorts;
import dev.vacancy.StalePlanException;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.follow.FollowUpWork;
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
import java.util.UUID;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.bson.conversions.Bson;

/**
 * Takes something out of the trail: what it says of a document, or its oldest runs.
 *
 * @param database the database
 * @param transactions those of its server; empty if it has none
 * @param clock tells when something was heard of it last
 * @param rules the rules, with the trail
 */
record TrailRemoval(MongoDatabase database, Optional<Transactions> transactions, Clock clock, Rules rules) {
    private DocumentTrail trail() {
        return trail(database);
    }

    private DocumentTrail trail(MongoDatabase there) {
        return new DocumentTrail(there, recording().trail());
    }

    private DocumentTraces traces(MongoDatabase there, Table table, String key) {
        return DocumentTraces.of(trail(there), rules, clock, table, key);
    }

    TracedEntries traced(Table table, String key) {
        return traced(database, table, key);
    }

    private TracedEntries traced(MongoDatabase there, Table table, String key) {
        return traces(there, table, key).found(table, key);
    }

    /** Erases all that is told of a document, all or nothing; what was erased is told entry by entry, and so can be verified. */
    void erase(Table table, String key, TracedEntries expected, RunFacts facts, Optional<Redeemed> redeemed) {
        Ending.Told told = new Ending.Told(trail(), facts);
        Ending ending = new Ending(facts.runId(), Optional.of(told), redeemed, Optional.empty());
        FollowUpWork.takeDown(rules, messages());
        IntendedRun.Work work = new IntendedRun.Work() {
            @Override
            public void writeDown(MongoDatabase there, Consumer<Change> changes) {
                DocumentTraces traces = traces(there, table, key);
                if (!traces.found(table, key).equals(expected)) {
                    throw new StalePlanException(List.of("the trail tells more or less of it by now"));
                }
                RunEntries entries = new RunEntries(trail(there), recording(), facts.runId());
                traces.entries().forEach(entry -> erase(entry, facts, changes, entries));
                Followers.of(trail(there), recording()).ofErased(traces.entries()).stream()
                        .map(message -> Change.insertion(DocumentMessages.COLLECTION, MessageDocument.of(message)))
                        .forEach(changes);
                List<StoredRun> runs = traces.runs();
                runs.forEach(run -> erase(run, facts, changes, entries));
                Set<UUID> bulkRuns = runs.stream()
                        .flatMap(run -> run.facts().partOf().stream())
                        .collect(Collectors.toSet());
                new BulkDocuments(there, clock).erase(bulkRuns, traces::tellsOf, changes);
                entries.flush();
            }

            @Override
            public boolean isUnchanged(MongoDatabase there) {
                return traced(there, table, key).equals(expected);
            }
        };
        new IntendedRun(database, transactions, clock, facts.actor(), ending)
                .carryOut(expected.entries().size() + expected.runs().size(), work);
    }

    private void erase(StoredEntry entry, RunFacts facts, Consumer<Change> changes, RunEntries entries) {
        String kept = entry.key() != null && KeyText.isSurrogate(entry.key()) ? entry.key() : null;
        StoredEntry left = entry.erased(kept, RunNumber.of(facts.runId()));
        changes.accept(Change.update(trail().trail().entries(), EntryDocument.of(entry), EntryDocument.of(left)));
        entries.addErased(EntryReader.OF_ENTRIES, Action.ERASED, entry.table(), kept, left.remains(), left.reference());
    }

    private void erase(StoredRun run, RunFacts facts, Consumer<Change> changes, RunEntries entries) {
        StoredRun left = run.withoutSelection(RunNumber.of(facts.runId()));
        changes.accept(Change.update(trail().trail().runs(), RunDocument.of(run), RunDocument.of(left)));
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
        forgetPruned();
        List<StoredRun> old = old(before);
        if (old.isEmpty()) {
            return 0;
        }
        FollowUpWork.takeDown(rules, messages());
        RunFacts told = facts.apply(old);
        RunEntries entries = new RunEntries(trail(), recording(), told.runId());
        old.forEach(run -> entries.addPruned(new PrunedRun(run.place(), run.digest())));
        entries.flush();
        new TrailWriting(trail()).append(told);
        forgetPruned();
        return old.size();
    }

    private void forgetPruned() {
        Followers followers = Followers.of(trail(), recording());
        new TrailWriting(trail()).forgetPruned(runs -> messages().insert(followers.ofPruned(runs)));
    }

    private DocumentMessages messages() {
        return new DocumentMessages(trail(), recording().followUps(), clock);
    }

    private Rules.Recording recording() {
        return rules.recording().orElseThrow();
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
