package dev.vacancy.internal.engine;

import dev.vacancy.Active;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.CommitListener;
import dev.vacancy.Emptying;
import dev.vacancy.EmptyingPlan;
import dev.vacancy.ErasureOutcome;
import dev.vacancy.Limits;
import dev.vacancy.Mode;
import dev.vacancy.Outcome;
import dev.vacancy.Permissions;
import dev.vacancy.Permissions.Action;
import dev.vacancy.Plan;
import dev.vacancy.Proposal;
import dev.vacancy.Reporting;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.followup.FollowUps;
import dev.vacancy.history.ErasurePlan;
import dev.vacancy.history.History;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.chunking.BulkStore;
import dev.vacancy.internal.chunking.StoreBulkRuns;
import dev.vacancy.internal.condition.SelectedRecords;
import dev.vacancy.internal.follow.FollowUpHandlers;
import dev.vacancy.internal.follow.FollowUpWork;
import dev.vacancy.internal.follow.TrailMessages;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.gate.Permit;
import dev.vacancy.internal.planning.Planning;
import dev.vacancy.internal.planning.RecordObserver;
import dev.vacancy.internal.request.Most;
import dev.vacancy.internal.restoring.RecordInTrail;
import dev.vacancy.internal.restoring.RecordTrail;
import dev.vacancy.internal.restoring.StoreHistory;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.CompletedErasure;
import dev.vacancy.internal.running.NotOffered;
import dev.vacancy.internal.running.RecordDatabase;
import dev.vacancy.internal.running.RedeemedApprovals;
import dev.vacancy.internal.running.Redeeming;
import dev.vacancy.internal.running.StoreRunner;
import dev.vacancy.internal.running.StoredReceipt;
import dev.vacancy.internal.running.TakenApproval;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.retirement.Retirement;
import dev.vacancy.retirement.RetirementOutcome;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.retirement.Retirements;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.trace.Trace;
import dev.vacancy.trace.TraceOutcome;
import dev.vacancy.trace.TracePlan;
import dev.vacancy.trace.TracedRecord;
import java.sql.Connection;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Consumer;
import java.util.function.Predicate;

/** What an application enters by {@code Vacancy} over a database that isn't relational. */
public final class StoreEngine implements Operations {
    private final RecordDatabase database;
    private final RecordTrail trail;
    private final BulkStore bulk;
    private final Rules rules;
    private final Clock clock;
    private final Limits limits;
    private final Followers followers;
    private final Optional<ActingUser> acting;

    private StoreEngine(
            RecordDatabase database,
            RecordTrail trail,
            BulkStore bulk,
            Rules rules,
            Clock clock,
            Limits limits,
            Followers followers,
            Optional<ActingUser> acting) {
        this.database = database;
        this.trail = trail;
        this.bulk = bulk;
        this.rules = rules;
        this.clock = clock;
        this.limits = limits;
        this.followers = followers;
        this.acting = acting;
    }

    /**
     * Holds the rules against what the database holds.
     *
     * @param database where the records are
     * @param trail where a trail is kept, if the rules ask for one
     * @param bulk where the state of bulk runs is kept
     * @param rules the application's rules
     * @param clock tells when plans are made and runs begin
     * @return the engine
     */
    public static StoreEngine over(
            RecordDatabase database, RecordTrail trail, BulkStore bulk, RuleBook rules, Clock clock) {
        Rules known = Rules.of(rules, database.catalog(), clock);
        known.catalog().requireTables();
        known.softness().markers().forEach((table, marker) -> {
            if (known.latestRow(table).isPresent()) {
                throw NotOffered.of("A marker by the latest row of a key, which " + table + " has,");
            }
        });
        database.require(known);
        known.recording().ifPresent(trail::setUp);
        return new StoreEngine(
                database,
                trail,
                bulk,
                known,
                clock,
                Limits.defaults(),
                new Followers(
                        CommitNotifier.toNobody(Optional.empty()),
                        RecordCaches.NONE,
                        WorkObserver.NOBODY,
                        FollowUpHandlers.NONE),
                Optional.empty());
    }

    /** Returns an entry to this engine. */
    public Vacancy entry() {
        return Engine.entryTo(this);
    }

    @Override
    public StoreEngine withListener(CommitListener listener) {
        return new StoreEngine(database, trail, bulk, rules, clock, limits, followers.and(listener), acting);
    }

    @Override
    public StoreEngine actingFor(By by, Permissions permissions) {
        Engine.requireActor(by);
        ActingUser person = new ActingUser(by, permissions, catalog());
        return new StoreEngine(database, trail, bulk, rules, clock, limits, followers, Optional.of(person));
    }

    @Override
    public StoreEngine withLimits(Limits other) {
        return new StoreEngine(database, trail, bulk, rules, clock, other, followers, acting);
    }

    private Planning planning() {
        RecordObserver observer = acting.filter(person -> person.permissions().isOfRecords())
                .<RecordObserver>map(person -> person)
                .orElse(RecordObserver.NOBODY);
        return new Planning(rules, clock, limits, observer, database.open());
    }

    private StoreRunner runner() {
        return new StoreRunner(database, rules, clock, gate());
    }

    private Gate gate() {
        return new Gate(acting.<Permit>map(person -> person).orElse(Permit.EVERYTHING));
    }

    @Override
    public Plan plan(Selection selection, By by) {
        Engine.requireActor(by);
        acting.ifPresent(person -> {
            person.require(by);
            person.require(Action.PREVIEW, catalog().table(selection.table()).name());
            person.requireSight(SelectedRecords.of(selection, catalog(), clock));
        });
        Plan plan = database.reading(() -> planning().preview(selection, by).plan());
        return acting.map(person -> person.sight().seen(plan)).orElse(plan);
    }

    @Override
    public List<RecordContent> list(Selection selection, By by, int most) {
        Most.require(most);
        Engine.requireActor(by);
        Table table = catalog().table(selection.table());
        CatalogTable.of(table).requireIdentity();
        SelectedRecords selected = SelectedRecords.of(selection, catalog(), clock);
        acting.ifPresent(person -> {
            person.require(by);
            person.require(Action.PREVIEW, table.name());
            person.require(Action.SEE, table.name());
            person.requireSight(selected);
        });
        Optional<Predicate<RecordContent>> mayKnow = acting.filter(
                        person -> person.permissions().isOfRecords())
                .map(person -> record -> person.may(Action.PREVIEW, record));
        List<RecordContent> records = database.reading(
                () -> planning().reader().first(table, selected.picked().condition(), 0, most, mayKnow));
        return acting.map(person -> records.stream().map(person.sight()::seen).toList())
                .orElse(records);
    }

    @Override
    public Outcome delete(Selection selection, By by, Reporting reporting) {
        Engine.requireActor(by);
        return acting.isPresent()
                ? run(Approval.of(plan(selection, by)), reporting)
                : notified(runner().delete(planning(), selection, by, reporting));
    }

    @Override
    public Outcome run(Approval approval, Reporting reporting) {
        return run(approval, reporting, Optional.empty());
    }

    private Outcome run(Approval approval, Reporting reporting, Optional<TakenApproval> taken) {
        acting.ifPresent(person -> {
            person.require(approval.plan());
            reporting
                    .keysOf()
                    .forEach(table ->
                            person.require(Action.SEE, catalog().table(table).name()));
        });
        Engine.requireDeletion(approval);
        return notified(runner().run(planning(), approval, reporting, taken));
    }

    @Override
    public void requirePermission(Proposal plan) {
        acting.ifPresent(person -> person.require(plan));
    }

    @Override
    public StoredReceipt redeem(Approval approval, BulkOptions options, Redeeming redeeming) {
        StoreHistory whole = whole();
        acting.ifPresent(person -> permitted(whole, person).requireRecords(approval.plan()));
        try (TakenApproval taken = database.take(redeeming, RunNumber.newId())) {
            if (approval.mode() == Mode.IN_CHUNKS) {
                requirePermission(approval.plan());
                chunked().start(approval, options, Optional.of(taken));
            } else if (approval.mode() == Mode.ERASING) {
                erase(approval, Optional.of(taken));
            } else if (approval.plan() instanceof RestorePlan) {
                whole.restore(approval, Optional.of(taken));
            } else if (approval.plan() instanceof ErasurePlan) {
                whole.erase(approval, Optional.of(taken));
            } else {
                run(approval, Reporting.none(), Optional.of(taken));
            }
            return taken.receipt();
        }
    }

    @Override
    public RedeemedApprovals redeemed() {
        return database.redeemed();
    }

    private Outcome notified(Outcome outcome) {
        followers.committed().happened(listener -> listener.deleted(outcome));
        return acting.map(person -> person.sight().seen(outcome)).orElse(outcome);
    }

    @Override
    public Selection pastRetention(String table) {
        return RetentionSelection.of(catalog().table(table), rules, clock);
    }

    @Override
    public DatabaseCatalog catalog() {
        return rules.catalog();
    }

    @Override
    public Rules rules() {
        return rules;
    }

    @Override
    public Clock clock() {
        return clock;
    }

    @Override
    public Limits limits() {
        return limits;
    }

    @Override
    public Operations joining(Connection connection) {
        throw NotOffered.of("A deletion as a part of a transaction");
    }

    @Override
    public StoreEngine withFollowUp(String name, FollowUpHandler handler) {
        Followers more = followers.handledBy(followers.handlers().and(name, handler, rules));
        return new StoreEngine(database, trail, bulk, rules, clock, limits, more, acting);
    }

    @Override
    public EmptyingPlan plan(Emptying emptying, By by) {
        throw NotOffered.of("Emptying a table at once");
    }

    @Override
    public ErasureOutcome erase(Approval approval) {
        return erase(approval, Optional.empty());
    }

    /** No transaction spans both: the record goes first, and then what is told of it. */
    private ErasureOutcome erase(Approval approval, Optional<TakenApproval> taken) {
        Plan plan = Engine.requireErasure(approval, acting);
        StoreHistory whole = whole();
        RecordInTrail gone = new RecordInTrail(
                plan.table().name(),
                trail.keyText(plan.table(), plan.roots().get(0).key()));
        whole.refuseHeld(gone, plan.by());
        AtomicLong entries = new AtomicLong();
        Outcome outcome = notified(
                runner().erase(planning(), approval, taken, passage -> entries.set(whole.eraseAfter(passage, gone))));
        return new CompletedErasure(outcome, entries.get());
    }

    @Override
    public RetirementPlan plan(Retirement retirement, By by) {
        throw NoRetirements.refusal();
    }

    @Override
    public RetirementOutcome retire(Approval approval) {
        throw NoRetirements.refusal();
    }

    @Override
    public Retirements retirements() {
        return new NoRetirements();
    }

    @Override
    public Trace trace(String table, KeyGiven key) {
        throw NotOffered.of("A trace of a person");
    }

    @Override
    public void export(Trace trace, Consumer<TracedRecord> each) {
        throw NotOffered.of("A trace of a person");
    }

    @Override
    public TracePlan plan(Trace trace, By by) {
        throw NotOffered.of("A trace of a person");
    }

    @Override
    public TraceOutcome eraseTrace(Approval approval) {
        throw NotOffered.of("A trace of a person");
    }

    @Override
    public Active active(String table) {
        throw NotOffered.of("A condition in SQL for what is active");
    }

    @Override
    public History history() {
        StoreHistory whole = whole();
        return acting.<History>map(person -> permitted(whole, person)).orElse(whole);
    }

    private PermittedHistory permitted(StoreHistory whole, ActingUser person) {
        return new PermittedHistory(whole, person, name -> catalog().table(name).name());
    }

    private StoreHistory whole() {
        return new StoreHistory(
                database,
                trail,
                rules,
                clock,
                gate(),
                this::planning,
                outcome -> followers.committed().happened(listener -> listener.restored(outcome)),
                followers.handlers());
    }

    @Override
    public FollowUps followUps() {
        acting.ifPresent(person -> person.require(Action.KEEP, ""));
        if (TrailMessages.names(rules).isEmpty()) {
            throw FollowUpWork.nothingFollows();
        }
        return new FollowUpWork(
                rules, trail.messages(rules), clock, ObservedHandler.all(followers.handlers(), followers.observer()));
    }

    @Override
    public BulkRuns bulk() {
        BulkRuns all = chunked();
        return acting.<BulkRuns>map(person -> new PermittedBulkRuns(all, person))
                .orElse(all);
    }

    private StoreBulkRuns chunked() {
        return new StoreBulkRuns(
                database,
                bulk,
                rules,
                clock,
                gate(),
                this::planning,
                run -> followers.committed().happened(listener -> listener.progressed(run)));
    }

    @Override
    public String toString() {
        return "Vacancy over " + database.name() + ", " + catalog().tables().size() + " collections"
                + acting.map(person -> ", acting for " + person.by().actor()).orElse("");
    }
}
