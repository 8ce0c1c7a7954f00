package dev.vacancy.internal.engine;

import dev.vacancy.Active;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.CommitListener;
import dev.vacancy.Emptying;
import dev.vacancy.EmptyingPlan;
import dev.vacancy.ErasureOutcome;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Limits;
import dev.vacancy.Outcome;
import dev.vacancy.Permissions;
import dev.vacancy.Permissions.Action;
import dev.vacancy.Plan;
import dev.vacancy.Proposal;
import dev.vacancy.Reporting;
import dev.vacancy.Selection;
import dev.vacancy.StalePlanException;
import dev.vacancy.TransactionSource;
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
import dev.vacancy.history.MaskingPlan;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.check.Check;
import dev.vacancy.internal.chunking.BulkWords;
import dev.vacancy.internal.chunking.ChunkedRuns;
import dev.vacancy.internal.condition.SelectedRecords;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.follow.FollowUpHandlers;
import dev.vacancy.internal.follow.FollowUpWork;
import dev.vacancy.internal.follow.SqlMessages;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.gate.Permit;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.request.Most;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.internal.restoring.TrailHistory;
import dev.vacancy.internal.retiring.Retiring;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.CompletedErasure;
import dev.vacancy.internal.running.CompletedRun;
import dev.vacancy.internal.running.JoinedTransaction;
import dev.vacancy.internal.running.ManagedTransactions;
import dev.vacancy.internal.running.NotOffered;
import dev.vacancy.internal.running.OwnTransactions;
import dev.vacancy.internal.running.RedeemedTable;
import dev.vacancy.internal.running.Redeeming;
import dev.vacancy.internal.running.RunParticipant;
import dev.vacancy.internal.running.Runner;
import dev.vacancy.internal.running.StoredReceipt;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.running.Work;
import dev.vacancy.internal.schema.CatalogReader;
import dev.vacancy.internal.tables.OwnTables;
import dev.vacancy.internal.tracing.Tracing;
import dev.vacancy.internal.trail.TrailDdl;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.retirement.Retirement;
import dev.vacancy.retirement.RetirementOutcome;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.retirement.Retirements;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.trace.Trace;
import dev.vacancy.trace.TraceOutcome;
import dev.vacancy.trace.TracePlan;
import dev.vacancy.trace.TracedRecord;
import java.lang.invoke.MethodHandles;
import java.sql.Connection;
import java.time.Clock;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.function.Predicate;
import javax.sql.DataSource;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * What an application enters by {@code Vacancy}: every way in passes here, with who acts, in whose transaction, and who is notified of it.
 */
public final class Engine implements Operations {
    private static final Logger LOG = LoggerFactory.getLogger(Engine.class);

    private static volatile Function<Vacancy, Operations> access;
    private static volatile Function<Operations, Vacancy> entry;

    private final Rules rules;
    private final Dialect dialect;
    private final Planner planner;
    private final Runner runner;
    private final Transactions transactions;
    private final Clock clock;
    private final Followers followers;
    private final Optional<ActingUser> acting;
    private final Gate gate;
    private final CacheUpdates memory;

    private Engine(
            Rules rules,
            Dialect dialect,
            Planner planner,
            Transactions transactions,
            Clock clock,
            Followers followers,
            Optional<ActingUser> acting) {
        this.rules = rules;
        this.dialect = dialect;
        this.planner = planner;
        this.transactions = transactions;
        this.clock = clock;
        this.followers = followers;
        this.acting = acting;
        this.memory = new CacheUpdates(followers.caches(), rules, transactions, followers.committed());
        this.gate = new Gate(acting.<Permit>map(person -> person).orElse(Permit.EVERYTHING));
        this.runner = new Runner(planner, dialect, clock, gate);
    }

    /** Reads the catalog and holds the rules against it. */
    public static Engine over(DataSource dataSource, RuleBook rules, Clock clock, Optional<TransactionSource> source) {
        OwnTransactions own = OwnTransactions.over(dataSource, source.isPresent());
        Transactions transactions = source.<Transactions>map(managed -> new ManagedTransactions(
                        ManagedSource.by(managed), own, Limits.defaults().lockWait()))
                .orElse(own);
        return over(transactions, own.dialect(), rules, clock, source);
    }

    /** Does the same where plans are made on another server than the one that writes. */
    public static Engine over(DataSource reader, DataSource writer, RuleBook rules, Clock clock) {
        OwnTransactions own = OwnTransactions.over(writer).lookingAt(reader);
        return over(own, own.dialect(), rules, clock, Optional.empty());
    }

    private static Engine over(
            Transactions transactions,
            Dialect dialect,
            RuleBook rules,
            Clock clock,
            Optional<TransactionSource> source) {
        Limits limits = Limits.defaults();
        WrittenRules written = WrittenRules.of(rules);
        return transactions.reading(connection -> {
            Rules known = Rules.of(
                    rules,
                    CatalogReader.read(connection, dialect, written.schemas(), OwnTables.namesFor(written.trail())),
                    clock);
            // Where the only table has retired, it can still come back.
            if (known.catalog().tables().isEmpty()
                    && Retiring.outOfSight(connection, dialect).isEmpty()) {
                known.catalog().requireTables();
            }
            warn(known.catalog());
            if (known.recording().isPresent()) {
                new TrailDdl(new TrailTables(known.recording().get().trail(), dialect)).require(connection);
            }
            Planner planner = new Planner(
                    known,
                    dialect,
                    clock,
                    limits,
                    dialect.whereabouts(connection).schema());
            return new Engine(
                    known,
                    dialect,
                    planner,
                    transactions,
                    clock,
                    new Followers(
                            CommitNotifier.toNobody(source),
                            RecordCaches.NONE,
                            WorkObserver.NOBODY,
                            FollowUpHandlers.NONE),
                    Optional.empty());
        });
    }

    /** What a plan can't see is told before the first one is made. */
    private static void warn(DatabaseCatalog catalog) {
        Check.blindSpots(catalog)
                .forEach(finding -> LOG.warn("{}: {}. {}.", finding.where(), finding.why(), finding.remedy()));
    }

    /** Looks for what is wrong or risky in a schema and in the rules for it. */
    public static List<Finding> check(DataSource dataSource, RuleBook rules) {
        OwnTransactions transactions = OwnTransactions.over(dataSource);
        Clock clock = Clock.system(ZoneId.systemDefault());
        List<Finding> findings = new ArrayList<>(
                transactions.reading(connection -> Check.findings(connection, transactions.dialect(), rules, clock)));
        if (!transactions.isEnforced()) {
            findings.add(0, Check.notEnforced(transactions.dialect()));
        }
        return List.copyOf(findings);
    }

    /** Works inside a transaction that the caller has open. */
    @Override
    public Engine joining(Connection connection) {
        Transactions joined = new JoinedTransaction(
                        connection, dialect, planner.limits().lockWait())
                .flushing(followers.caches()::flush);
        return new Engine(rules, dialect, planner, joined, clock, followers.joined(connection), acting);
    }

    /** Adds a listener. */
    @Override
    public Engine withListener(CommitListener listener) {
        return new Engine(rules, dialect, planner, transactions, clock, followers.and(listener), acting);
    }

    /** Has somebody around each piece of work. */
    public Engine withObserver(WorkObserver observer) {
        return new Engine(rules, dialect, planner, transactions, clock, followers.and(observer), acting);
    }

    /** Keeps what the application holds of records in step with the database. */
    public Engine withCache(RecordCache cache) {
        Followers all = followers.and(cache);
        return new Engine(rules, dialect, planner, transactions.flushing(all.caches()::flush), clock, all, acting);
    }

    /** Works for one person, as far as the permissions go. */
    @Override
    public Engine actingFor(By by, Permissions permissions) {
        requireActor(by);
        ActingUser person = new ActingUser(by, permissions, catalog());
        return new Engine(
                rules,
                dialect,
                permissions.isOfRecords() ? planner.watchedBy(person) : planner,
                transactions,
                clock,
                followers,
                Optional.of(person));
    }

    /** Works within other limits. */
    @Override
    public Engine withLimits(Limits limits) {
        return new Engine(
                rules,
                dialect,
                planner.within(limits),
                transactions.waiting(limits.lockWait()),
                clock,
                followers,
                acting);
    }

    /** Works out what would happen. */
    @Override
    public Plan plan(Selection selection, By by) {
        return planned(selection, by, false);
    }

    /** What somebody has looked at may be a little behind; what nobody looks at any more may not. */
    private Plan planned(Selection selection, By by, boolean ofThePresent) {
        return followers.observer().around("plan", selection.table(), () -> preview(selection, by, ofThePresent));
    }

    private Plan preview(Selection selection, By by, boolean ofThePresent) {
        requireActor(by);
        acting.ifPresent(person -> {
            person.require(by);
            person.require(Action.PREVIEW, catalog().table(selection.table()).name());
        });
        SelectedRecords selected = SelectedRecords.of(selection, catalog(), clock);
        acting.ifPresent(person -> person.requireSight(selected));
        Work<Planned> work = connection -> planner.on(connection).preview(selection, by);
        Plan plan = (ofThePresent ? transactions.reading(work) : transactions.looking(work)).plan();
        return acting.map(person -> person.sight().seen(plan)).orElse(plan);
    }

    /** Lists the first records that a selection matches, as far as whoever acts may see them. */
    @Override
    public List<RecordContent> list(Selection selection, By by, int most) {
        Most.require(most);
        requireActor(by);
        Table table = catalog().table(selection.table());
        acting.ifPresent(person -> {
            person.require(by);
            person.require(Action.PREVIEW, table.name());
            person.require(Action.SEE, table.name());
        });
        CatalogTable.of(table).requireIdentity();
        SelectedRecords selected = SelectedRecords.of(selection, catalog(), clock);
        acting.ifPresent(person -> person.requireSight(selected));
        Optional<Predicate<RecordContent>> mayKnow = acting.filter(
                        person -> person.permissions().isOfRecords())
                .map(person -> record -> person.may(Action.PREVIEW, record));
        List<RecordContent> records = transactions.looking(connection ->
                planner.on(connection).reader().first(table, selected.picked().condition(), 0, most, mayKnow));
        return acting.map(person -> records.stream().map(person.sight()::seen).toList())
                .orElse(records);
    }

    static void requireActor(By by) {
        if (by == null) {
            throw new InvalidRequestException(
                    FailureCode.NO_ACTOR,
                    "A deletion needs somebody who asks for it.",
                    "Say who: By.user(name) for a person, By.program(name) for a program.");
        }
    }

    /** Deletes what a program has decided to. */
    @Override
    public Outcome delete(Selection selection, By by, Reporting reporting) {
        requireActor(by);
        if (acting.isPresent()) {
            // What somebody may do depends on how much of a table it is, which only a plan tells.
            return run(Approval.of(planned(selection, by, true)), reporting);
        }
        return followers.observer().around("delete", selection.table(), () -> deleted(selection, by, reporting));
    }

    private Outcome deleted(Selection selection, By by, Reporting reporting) {
        Set<String> held = memory.held();
        return notified(
                runner.delete(selection, by, transactions, RecordCaches.reporting(reporting, held)), reporting, held);
    }

    /** Carries out a deletion or an emptying that was agreed to. */
    @Override
    public Outcome run(Approval approval, Reporting reporting) {
        return run(approval, reporting, RunParticipant.NOBODY);
    }

    /**
     * Takes from the entry class how its engine is found, so that our own modules find it and nobody else does.
     *
     * @param engineOf gives the engine of an entry
     * @param entryTo makes an entry to an engine
     */
    public static void accessBy(Function<Vacancy, Operations> engineOf, Function<Operations, Vacancy> entryTo) {
        access = engineOf;
        entry = entryTo;
    }

    /** Returns what works behind an entry, for our own modules. */
    public static Engine of(Vacancy vacancy) {
        if (behind(vacancy) instanceof Engine engine) {
            return engine;
        }
        throw NotOffered.of("What this part of Vacancy does");
    }

    /** Returns the rules of any entry, for our own modules. */
    public static Rules rulesOf(Vacancy vacancy) {
        return behind(vacancy).rules();
    }

    /** Returns what stands behind any entry, for our own modules. */
    public static Operations behind(Vacancy vacancy) {
        return access.apply(vacancy);
    }

    /** Returns an entry to this engine, for our own modules. */
    public Vacancy entry() {
        return entryTo(this);
    }

    /** Only the entry class itself can make one, and says how as it is initialised. */
    static Vacancy entryTo(Operations operations) {
        try {
            MethodHandles.lookup().ensureInitialized(Vacancy.class);
        } catch (IllegalAccessException hidden) {
            throw new IllegalStateException("Vacancy is public", hidden);
        }
        return entry.apply(operations);
    }

    /** What is permitted is asked of the plan under lock; how much of a table it is, only the plan that was shown knows. */
    private Outcome run(Approval approval, Reporting reporting, RunParticipant participant) {
        return followers
                .observer()
                .around("run", tableOf(approval.plan()), () -> done(approval, reporting, participant));
    }

    private static String tableOf(Proposal plan) {
        if (plan instanceof Plan deletion) {
            return deletion.table().name();
        }
        return plan instanceof EmptyingPlan emptying ? emptying.table().name() : "";
    }

    private Outcome done(Approval approval, Reporting reporting, RunParticipant participant) {
        requirePermission(approval.plan());
        try {
            return carriedOut(approval, reporting, participant);
        } catch (StalePlanException stale) {
            throw transactions
                    .behind()
                    .map(behind -> new StalePlanException(stale, behind))
                    .orElse(stale);
        }
    }

    private Outcome carriedOut(Approval approval, Reporting reporting, RunParticipant participant) {
        if (approval.plan() instanceof EmptyingPlan) {
            return notified(runner.empty(approval, transactions, participant), reporting, Set.of());
        }
        requireDeletion(approval);
        acting.ifPresent(person -> reporting.keysOf().forEach(table -> person.require(Action.SEE, nameOf(table))));
        Set<String> held = memory.held();
        return notified(
                runner.run(approval, transactions, RecordCaches.reporting(reporting, held), participant),
                reporting,
                held);
    }

    /** The plan of a single record that is to go for good, and that whoever acts may erase. */
    static Plan requireErasure(Approval approval, Optional<ActingUser> acting) {
        Plan plan = requireDeletion(approval);
        acting.ifPresent(person -> {
            person.requireDeletion(plan);
            person.require(Action.DELETE_HARD, plan.table().name());
        });
        if (plan.selected() != 1 || plan.isSoft()) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "To erase is to remove a single record for good, and this plan "
                            + (plan.isSoft() ? "only marks it." : "is of " + plan.selected() + " records."),
                    "Plan a selection of one key with hard().");
        }
        return plan;
    }

    static Plan requireDeletion(Approval approval) {
        if (approval.plan() instanceof Plan plan) {
            return plan;
        }
        throw new InvalidRequestException(
                FailureCode.APPROVAL_OF_ANOTHER,
                "This approval is of no deletion.",
                "Restore by history().restore(approval), erase from the trail by history().erase(approval).");
    }

    @Override
    public void requirePermission(Proposal plan) {
        acting.ifPresent(person -> person.require(plan));
    }

    /** Works out what would happen. */
    @Override
    public EmptyingPlan plan(Emptying emptying, By by) {
        requireActor(by);
        acting.ifPresent(person -> {
            person.require(by);
            person.require(Action.PREVIEW, catalog().table(emptying.table()).name());
        });
        return runner.plan(emptying, by, transactions);
    }

    /** Deletes a record and what the trail holds of it. */
    @Override
    public ErasureOutcome erase(Approval approval) {
        return erase(approval, RunParticipant.NOBODY);
    }

    private ErasureOutcome erase(Approval approval, RunParticipant participant) {
        Plan plan = requireErasure(approval, acting);
        AtomicLong entries = new AtomicLong();
        Outcome outcome = notified(
                runner.erase(
                        approval,
                        transactions,
                        participant,
                        trail().erasing(plan.table(), plan.roots().get(0).key(), entries::set)),
                Reporting.none(),
                Set.of());
        memory.afterErasing(rules.deleting(plan.table(), true).around(plan.table()));
        return new CompletedErasure(outcome, entries.get());
    }

    @Override
    public StoredReceipt redeem(Approval approval, BulkOptions options, Redeeming redeeming) {
        RedeemedTable.Writing writing = redeemed().writing(redeeming);
        carryOut(approval, options, writing);
        return writing.receipt();
    }

    @Override
    public RedeemedTable redeemed() {
        return new RedeemedTable(transactions, dialect, clock, limits().lockWait());
    }

    private void carryOut(Approval approval, BulkOptions options, RunParticipant participant) {
        acting.ifPresent(person -> permitted(trail(), person).requireRecords(approval.plan()));
        switch (approval.mode()) {
            case ERASING -> erase(approval, participant);
            case IN_CHUNKS -> {
                requirePermission(approval.plan());
                chunked().start(approval, options, participant);
            }
            case AT_ONCE -> {
                if (approval.plan() instanceof RestorePlan) {
                    trail().restore(approval, participant);
                } else if (approval.plan() instanceof ErasurePlan) {
                    trail().erase(approval, participant);
                } else if (approval.plan() instanceof MaskingPlan) {
                    trail().mask(approval, participant);
                } else if (approval.plan() instanceof TracePlan) {
                    eraseTrace(approval, participant);
                } else {
                    run(approval, Reporting.none(), participant);
                }
            }
        }
    }

    /** Has caches forget what has changed, and tells of it as far as the caller asked for it. */
    private Outcome notified(CompletedRun whole, Reporting asked, Set<String> held) {
        Outcome outcome = memory.after(whole, asked, held);
        followers.committed().happened(listener -> listener.deleted(outcome));
        return acting.map(person -> person.sight().seen(outcome)).orElse(outcome);
    }

    /** Renders which records of a table are active. */
    @Override
    public Active active(String table) {
        return ActiveRecords.of(catalog().table(table), rules, dialect, clock);
    }

    /** Selects what may be purged. */
    @Override
    public Selection pastRetention(String table) {
        return RetentionSelection.of(catalog().table(table), rules, clock);
    }

    /** Looks for what is known of a person. */
    @Override
    public Trace trace(String table, KeyGiven key) {
        Table traced = traced(table);
        Trace trace = followers
                .observer()
                .around("trace", traced.name(), () -> tracing().trace(traced, key));
        acting.ifPresent(person -> person.require(trace));
        return trace;
    }

    /** Hands out what is known of a person. */
    @Override
    public void export(Trace trace, Consumer<TracedRecord> each) {
        traced(trace.table());
        // What is handed out is what is known by now.
        acting.ifPresent(person -> person.require(tracing().again(trace)));
        tracing().export(trace, each);
    }

    private Table traced(String table) {
        Table traced = catalog().table(table);
        acting.ifPresent(person -> {
            person.require(Action.PREVIEW, traced.name());
            person.requireWhole(catalog());
        });
        return traced;
    }

    /** Works out what erasing it would do. */
    @Override
    public TracePlan plan(Trace trace, By by) {
        requireActor(by);
        acting.ifPresent(person -> {
            person.require(by);
            person.requireWhole(catalog());
        });
        TracePlan plan = tracing().plan(trace, by);
        requirePermission(plan);
        return plan;
    }

    /** Erases what is known of a person. */
    @Override
    public TraceOutcome eraseTrace(Approval approval) {
        return eraseTrace(approval, RunParticipant.NOBODY);
    }

    private TraceOutcome eraseTrace(Approval approval, RunParticipant participant) {
        requirePermission(approval.plan());
        acting.ifPresent(person -> person.requireWhole(catalog()));
        return followers
                .observer()
                .around("run", approval.plan().subject(), () -> tracing().erase(approval, participant, this::erased));
    }

    private void erased(CompletedRun run) {
        memory.afterErasing(rules.erasing(catalog().table(run.table())));
        if (!run.counts().isEmpty()) {
            followers.committed().happened(listener -> listener.deleted(run));
        }
    }

    /** Works out what setting a column or a table aside would do. */
    @Override
    public RetirementPlan plan(Retirement retirement, By by) {
        requireActor(by);
        RetirementPlan plan = followers
                .observer()
                .around("plan", retirement.table(), () -> retiring().plan(retirement, by));
        requirePermission(plan);
        return plan;
    }

    /** Carries out a step of a retirement. */
    @Override
    public RetirementOutcome retire(Approval approval) {
        requirePermission(approval.plan());
        return followers
                .observer()
                .around("run", approval.plan().subject(), () -> retiring().carryOut(approval));
    }

    /** Returns what has retired, as far as whoever acts may see and change it. */
    @Override
    public Retirements retirements() {
        Retiring all = retiring();
        return acting.<Retirements>map(person -> new PermittedRetirements(all, person))
                .orElse(all);
    }

    private Retiring retiring() {
        return new Retiring(planner, dialect, transactions, clock, gate);
    }

    private Tracing tracing() {
        return new Tracing(planner, dialect, transactions, clock, gate, new BulkWords(dialect));
    }

    /** Returns the trail, as far as whoever acts may see and change it. */
    @Override
    public History history() {
        TrailHistory whole = trail();
        return acting.<History>map(person -> permitted(whole, person)).orElse(whole);
    }

    private PermittedHistory permitted(TrailHistory whole, ActingUser person) {
        return new PermittedHistory(whole, person, this::nameOf);
    }

    private TrailHistory trail() {
        return new TrailHistory(
                planner,
                dialect,
                transactions,
                clock,
                outcome -> {
                    memory.after(outcome);
                    followers.committed().happened(listener -> listener.restored(outcome));
                },
                gate,
                new BulkWords(dialect),
                followers.handlers());
    }

    /** A table that isn't there any more may still stand in the trail. */
    private String nameOf(String table) {
        return catalog().tables().stream()
                .map(Table::name)
                .filter(table::equalsIgnoreCase)
                .findFirst()
                .orElse(table);
    }

    /** Returns bulk runs, as far as whoever acts may start, see and steer them. */
    @Override
    public FollowUps followUps() {
        acting.ifPresent(person -> person.require(Action.KEEP, ""));
        if (transactions.isJoined()) {
            throw new InvalidRequestException(
                    FailureCode.FOREIGN_TRANSACTION,
                    "What follows runs is handled after their commit, so it can't be part of the application's transaction.",
                    "Handle it from a Vacancy over the data source.");
        }
        return new FollowUpWork(
                rules,
                new SqlMessages(rules, dialect, transactions),
                clock,
                ObservedHandler.all(followers.handlers(), followers.observer()));
    }

    /** Does the same, and has somebody handle what follows. */
    @Override
    public Engine withFollowUp(String name, FollowUpHandler handler) {
        FollowUpHandlers more = followers.handlers().and(name, handler, rules);
        return new Engine(rules, dialect, planner, transactions, clock, followers.handledBy(more), acting);
    }

    /** Returns the bulk runs. */
    @Override
    public BulkRuns bulk() {
        BulkRuns all = chunked();
        return acting.<BulkRuns>map(person -> new PermittedBulkRuns(all, person))
                .orElse(all);
    }

    private ChunkedRuns chunked() {
        if (transactions.isJoined()) {
            throw new InvalidRequestException(
                    FailureCode.FOREIGN_TRANSACTION,
                    "A bulk run commits each of its chunks, so it can't be part of the application's transaction.",
                    "Start it from a Vacancy over the data source.");
        }
        return new ChunkedRuns(
                planner,
                runner,
                transactions,
                dialect,
                clock,
                run -> {
                    memory.after(run);
                    followers.committed().happened(listener -> listener.progressed(run));
                },
                gate);
    }

    @Override
    public Clock clock() {
        return clock;
    }

    @Override
    public Limits limits() {
        return planner.limits();
    }

    /** Returns the catalog with the links that only the rules declare. */
    @Override
    public DatabaseCatalog catalog() {
        return rules.catalog();
    }

    /** Returns the rules as they were read. */
    @Override
    public Rules rules() {
        return rules;
    }

    @Override
    public String toString() {
        return "Vacancy over " + dialect.name() + ", " + catalog().tables().size() + " tables"
                + acting.map(person -> ", acting for " + person.by().actor()).orElse("");
    }
}
