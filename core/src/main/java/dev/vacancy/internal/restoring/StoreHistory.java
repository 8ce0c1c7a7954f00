package dev.vacancy.internal.restoring;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.DatabaseException;
import dev.vacancy.Mode;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.DeletedRecord;
import dev.vacancy.history.ErasurePlan;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.MaskingPlan;
import dev.vacancy.history.RestoreOutcome;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.history.TrailRun;
import dev.vacancy.history.Verification;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.GivenKeys;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.follow.FollowUpHandlers;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.ConsentDemands;
import dev.vacancy.internal.planning.Planning;
import dev.vacancy.internal.planning.RequestDigest;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.internal.request.Most;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.NotOffered;
import dev.vacancy.internal.running.RecordDatabase;
import dev.vacancy.internal.running.Redeemed;
import dev.vacancy.internal.running.TakenApproval;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.PrunedRun;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailStore;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.function.Supplier;

/**
 * The history of a database that isn't relational.
 *
 * @since 0.1
 */
public final class StoreHistory implements SeenHistory {
    private final RecordDatabase database;
    private final RecordTrail trail;
    private final Rules rules;
    private final Clock clock;
    private final Gate gate;
    private final Supplier<Planning> planning;
    private final Consumer<RestoreOutcome> restored;
    private final FollowUpHandlers handlers;

    /**
     * Opens a history.
     *
     * @param database where the records are
     * @param trail where the trail is
     * @param rules say whether there is one
     * @param clock tells when something happens
     * @param gate lets through what was agreed to
     * @param planning opens the records
     * @param restored is told of each restore
     * @param handlers who bring back what belongs to records outside of the database
     */
    public StoreHistory(
            RecordDatabase database,
            RecordTrail trail,
            Rules rules,
            Clock clock,
            Gate gate,
            Supplier<Planning> planning,
            Consumer<RestoreOutcome> restored,
            FollowUpHandlers handlers) {
        this.database = database;
        this.trail = trail;
        this.rules = rules;
        this.clock = clock;
        this.gate = gate;
        this.planning = planning;
        this.restored = restored;
        this.handlers = handlers;
    }

    private Rules.Recording recording() {
        return rules.recording().orElseThrow(HistoryRequests::withoutTrail);
    }

    private <T> T reading(Function<TrailStore, T> work) {
        Rules.Recording recording = recording();
        return database.reading(() -> work.apply(trail.store(recording)));
    }

    private TrailReading told() {
        return new TrailReading(rules.catalog(), new TrailAccess() {
            @Override
            public <T> T reading(Function<TrailStore, T> work) {
                return StoreHistory.this.reading(work);
            }
        });
    }

    @Override
    public List<TrailRun> runs(HistoryQuery query) {
        return runs(query, table -> true);
    }

    @Override
    public List<TrailRun> runs(HistoryQuery query, Predicate<String> visible) {
        return told().runs(query, visible);
    }

    @Override
    public List<TrailEntry> entries(HistoryQuery query) {
        return entries(query, table -> true, entry -> true);
    }

    @Override
    public List<TrailEntry> entries(HistoryQuery query, Predicate<String> mayTell, Predicate<TrailEntry> mayKnow) {
        return told().entries(query, mayTell, mayKnow);
    }

    @Override
    public void forEach(HistoryQuery query, Consumer<TrailEntry> each) {
        told().each(query, each);
    }

    @Override
    public Verification verify(Optional<Verification.Head> kept) {
        return told().verify(kept);
    }

    @Override
    public UUID hold(String table, String criteria, By by) {
        Table held = rules.catalog().table(table);
        HistoryRequests.requireReasonToHold(by);
        CatalogTable.of(held).requireIdentity();
        Criteria wanted = Criteria.parse(criteria);
        Condition condition = Resolution.of(wanted, held, rules.catalog(), clock);
        UUID id = RunNumber.newId();
        database.reading(() -> {
            trail.hold(recording(), held, Optional.of(condition), count -> {
                if (count == 0) {
                    throw HistoryRequests.noneToHold(held, wanted);
                }
                return facts(id, RunKind.HOLD, by, held, wanted.toString(), Map.of(held.name(), count));
            });
            return id;
        });
        return id;
    }

    private RunFacts facts(UUID id, RunKind kind, By by, Table table, String selection, Map<String, Long> counts) {
        return new TrailChangeFacts(rules, clock).of(id, kind, by, table.name(), selection, counts);
    }

    @Override
    public UUID standingHold(String table, String criteria, By by) {
        Table held = rules.catalog().table(table);
        HistoryRequests.requireReasonToHold(by);
        Criteria wanted = Criteria.parse(criteria);
        Resolution.of(wanted, held, rules.catalog(), clock);
        UUID id = RunNumber.newId();
        return database.reading(() -> {
            trail.hold(
                    recording(),
                    held,
                    Optional.empty(),
                    count -> facts(id, RunKind.STANDING_HOLD, by, held, wanted.toString(), Map.of()));
            return id;
        });
    }

    @Override
    public void lift(UUID hold, By by) {
        TrailRun made = HistoryRequests.held(holds(), hold);
        RunFacts facts = new TrailChangeFacts(rules, clock)
                .of(
                        RunNumber.newId(),
                        RunKind.LIFT,
                        by,
                        Optional.empty(),
                        made.table(),
                        made.selection(),
                        Map.of(),
                        Optional.of(hold));
        database.reading(() -> {
            trail.append(recording(), facts);
            return hold;
        });
    }

    @Override
    public List<TrailRun> holds() {
        Rules.Recording recording = recording();
        return database.reading(() -> database.open().holds(recording).runs().stream()
                .map(PublicForm::run)
                .toList());
    }

    @Override
    public String keyText(String table, KeyGiven key) {
        Table asked = rules.catalog().table(table);
        return trail.keyText(asked, GivenKeys.resolve(key, asked));
    }

    @Override
    public RestorePlan planRestore(UUID run, By by) {
        return planRestore(run, Optional.empty(), by);
    }

    @Override
    public RestorePlan planRestore(UUID run, String table, String key, By by) {
        return planRestore(
                run, Optional.of(new RecordInTrail(rules.catalog().table(table).name(), key)), by);
    }

    private RestorePlan planRestore(UUID run, Optional<RecordInTrail> only, By by) {
        return reading(
                store -> planned(store, UndoneRuns.of(store, run, only), by).plan());
    }

    /** A restore as it was worked out, with all that it takes to carry it out. */
    private record Worked(PlannedRestore plan, Undoing undoing, Restorable found) {}

    private Worked planned(TrailStore store, UndoneRuns undone, By by) {
        RestoredEntries returned = RestoredEntries.by(store, undone.parts());
        Undoing undoing = new Undoing(rules, clock, undone.runs(), undone.only(), returned::contains, handlers);
        Restorable found = trail.look(undoing).orElseThrow(undone::withoutRecord);
        String request = RequestDigest.ofRestore(undone.id(), undone.only().map(RecordInTrail::toString));
        PlannedRestore plan = PlannedRestore.of(
                        undone, found, planning.get().scope(request), by, clock.instant(), rules)
                .on(database.traits());
        return new Worked(plan, undoing, found);
    }

    @Override
    public RestoreOutcome restore(Approval approval) {
        return restore(approval, Optional.empty());
    }

    /**
     * Undoes a run as was agreed to.
     *
     * @param approval what was agreed to
     * @param taken the approval that it redeems; empty if it is none that travelled
     * @return what came back
     */
    public RestoreOutcome restore(Approval approval, Optional<TakenApproval> taken) {
        RestorePlan agreed = HistoryRequests.restore(approval);
        Worked now = reading(store -> planned(
                store, UndoneRuns.of(store, agreed.undone(), RecordInTrail.of(agreed, rules.catalog())), agreed.by()));
        Passage passage =
                gate.pass(approval, Mode.AT_ONCE, now.plan(), () -> HistoryRequests.staleRestore(agreed.undone()));
        PlannedRestore plan = now.plan();
        RunFacts facts = new TrailChangeFacts(rules, clock)
                .of(
                        taken.map(TakenApproval::run).orElseGet(RunNumber::newId),
                        plan.only().isPresent() ? RunKind.PART_RESTORE : RunKind.RESTORE,
                        passage.by(),
                        passage.colleague(),
                        plan.run().table(),
                        plan.only().orElseGet(() -> plan.run().selection()),
                        plan.counts(),
                        Optional.of(plan.undone()));
        Optional<Redeemed> redeemed = taken.map(travelled -> travelled.redeemedBy(plan, clock.instant()));
        trail.restore(passage, now.undoing(), facts, now.found(), redeemed);
        RestoreOutcome outcome = new CompletedRestore(
                facts.runId(), plan.undone(), plan.by(), Instant.parse(facts.at()), plan.counts(), plan.putBack());
        restored.accept(outcome);
        return outcome;
    }

    @Override
    public Selection undoing(UUID restore) {
        return reading(store -> new RestoredRecords(rules, store, trail::keys).by(restore));
    }

    @Override
    public List<DeletedRecord> deleted(HistoryQuery query) {
        return deleted(query, Optional.empty());
    }

    @Override
    public List<DeletedRecord> deleted(HistoryQuery query, Optional<Predicate<RecordContent>> mayKnow) {
        Most.require(query.most());
        return database.reading(() -> new DeletedRecords(
                        rules,
                        clock,
                        planning.get(),
                        rules.recording().map(trail::store),
                        (table, key) -> Optional.of(trail.keyText(table, key)))
                .of(query, mayKnow));
    }

    @Override
    public RestoreOutcome restore(Approval approval, long records, Consumer<RestoreOutcome> each) {
        throw NotOffered.of("A restore in portions");
    }

    @Override
    public ErasurePlan planErasure(String table, String key, By by) {
        recording();
        return database.reading(
                () -> erasure(rules.catalog().table(table), key, by).plan());
    }

    /** An erasure as it was worked out, with all that it takes to carry it out. */
    private record WorkedErasure(PlannedErasure plan, TracedEntries traces) {}

    private WorkedErasure erasure(Table table, String key, By by) {
        return erasure(table, key, by, trail.isThere(table, key));
    }

    private WorkedErasure erasure(Table table, String key, By by, boolean there) {
        TracedEntries traces = trail.traces(rules, table, key);
        Scope scope = planning.get().scope(RequestDigest.ofErasure(table, key));
        ConsentDemands demands = new ConsentDemands(rules, rules);
        Map<String, Long> counts = traces.counts();
        PlannedErasure plan = new PlannedErasure(
                table.name(),
                key,
                by,
                clock.instant(),
                counts,
                traces.holds().stream().map(PublicForm::run).toList(),
                there,
                // What stands in the way is told by itself, not as another plan.
                Chain.digest(scope + "\n" + counts),
                demands.withoutWayBack(table),
                demands.colleague(counts.isEmpty() ? Map.of(table.name(), 1L) : counts),
                scope);
        return new WorkedErasure(plan, traces);
    }

    @Override
    public long erase(Approval approval) {
        return erase(approval, Optional.empty());
    }

    /**
     * Erases what the trail tells of a record, as was agreed to.
     *
     * @param approval what was agreed to
     * @param taken the approval that it redeems; empty if it is none that travelled
     * @return how many entries have lost their content
     */
    public long erase(Approval approval, Optional<TakenApproval> taken) {
        ErasurePlan agreed = HistoryRequests.erasure(approval);
        Table table = rules.catalog().table(agreed.table());
        WorkedErasure now = database.reading(() -> erasure(table, agreed.key(), agreed.by()));
        Passage passage = gate.pass(
                approval,
                Mode.AT_ONCE,
                now.plan(),
                () -> HistoryRequests.differing(
                        "entries of the trail", now.plan().entries(), agreed.entries()));
        return carryOut(passage, table, now, taken);
    }

    @Override
    public long erase(String table, String key, By by) {
        Table erased = rules.catalog().table(table);
        recording();
        WorkedErasure now = database.reading(() -> erasure(erased, key, by));
        return carryOut(gate.passUnasked(now.plan()), erased, now, Optional.empty());
    }

    /**
     * Erases what the trail tells of a record that has just gone by a deletion which was agreed to so.
     *
     * @param passage proof that the deletion has come through the gate, to be erased
     * @param gone the record's table and key
     * @return how many entries have lost their content
     */
    public long eraseAfter(Passage passage, RecordInTrail gone) {
        Table table = rules.catalog().table(gone.table());
        try {
            WorkedErasure now = database.reading(() -> erasure(table, gone.key(), passage.by()));
            return carryOut(passage, table, now, Optional.empty());
        } catch (StalePlanException | DatabaseException failure) {
            throw new DatabaseException(
                    "erase from the audit trail what it tells of " + gone,
                    "The record itself is gone. Erase what is told of it: history().erase(table, key, by), or"
                            + " 'vacancy erase' once more.",
                    failure);
        }
    }

    /**
     * Refuses to erase what is told of a record that is held, or was.
     *
     * @param record the record's table and key
     * @param by who wants it
     */
    public void refuseHeld(RecordInTrail record, By by) {
        recording();
        database.reading(() -> erasure(rules.catalog().table(record.table()), record.key(), by, false))
                .plan()
                .refuseBlocked();
    }

    private long carryOut(Passage passage, Table table, WorkedErasure now, Optional<TakenApproval> taken) {
        String key = now.plan().key();
        String kept = now.traces().keptKey().orElse(StoredRun.ERASED);
        RunFacts facts = new TrailChangeFacts(rules, clock)
                .of(
                        taken.map(TakenApproval::run).orElseGet(RunNumber::newId),
                        RunKind.ERASURE,
                        passage.by(),
                        passage.colleague(),
                        table.name(),
                        table + " " + kept,
                        now.plan().counts(),
                        Optional.empty());
        trail.erase(
                passage,
                rules,
                table,
                key,
                now.traces(),
                facts,
                taken.map(travelled -> travelled.redeemedBy(now.plan(), clock.instant())));
        return now.plan().entries();
    }

    @Override
    public MaskingPlan planMasking(String text, By by) {
        throw NotOffered.of("Masking a text in the audit trail");
    }

    @Override
    public long mask(Approval approval) {
        throw NotOffered.of("Masking a text in the audit trail");
    }

    @Override
    public long mask(String text, By by) {
        throw NotOffered.of("Masking a text in the audit trail");
    }

    @Override
    public long prune(Instant before, By by) {
        recording();
        return database.reading(() -> trail.prune(
                rules,
                before,
                old -> new TrailChangeFacts(rules, clock)
                        .of(
                                RunNumber.newId(),
                                RunKind.AGEING,
                                by,
                                "",
                                PrunedRun.last(old).toString(),
                                Map.of("runs", (long) old.size()))));
    }
}
