package dev.vacancy;

import dev.vacancy.Permissions.Act;
import dev.vacancy.audit.ErasurePlan;
import dev.vacancy.audit.History;
import dev.vacancy.audit.MaskingPlan;
import dev.vacancy.audit.RestorePlan;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.catalog.Table;
import dev.vacancy.check.Finding;
import dev.vacancy.confirm.Approval;
import dev.vacancy.confirm.ApprovalKeys;
import dev.vacancy.criteria.Selection;
import dev.vacancy.failure.DatabaseException;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.failure.LockedException;
import dev.vacancy.failure.Most;
import dev.vacancy.failure.OutcomeUnknownException;
import dev.vacancy.internal.check.Check;
import dev.vacancy.internal.chunking.BulkWords;
import dev.vacancy.internal.chunking.ChunkedRuns;
import dev.vacancy.internal.condition.SelectedRecords;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.gate.Permit;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.restoring.TrailHistory;
import dev.vacancy.internal.running.Attendant;
import dev.vacancy.internal.running.JoinedTransaction;
import dev.vacancy.internal.running.ManagedTransactions;
import dev.vacancy.internal.running.OwnTransactions;
import dev.vacancy.internal.running.RunErasure;
import dev.vacancy.internal.running.Runner;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.schema.CatalogReader;
import dev.vacancy.internal.trail.TrailDdl;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.internal.travelling.Redemption;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Emptying;
import dev.vacancy.plan.EmptyingPlan;
import dev.vacancy.plan.Limits;
import dev.vacancy.plan.Plan;
import dev.vacancy.plan.Proposal;
import dev.vacancy.plan.UnexpectedCountException;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Rules;
import dev.vacancy.rule.RulesException;
import dev.vacancy.run.ErasureOutcome;
import dev.vacancy.run.Outcome;
import dev.vacancy.run.Reporting;
import dev.vacancy.run.StalePlanException;
import java.sql.Connection;
import java.time.Clock;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Predicate;
import javax.sql.DataSource;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Deletes records of a database: works out all that a deletion touches, lets somebody agree to exactly that, and carries
 * it out.
 *
 * <pre>{@code
 * Vacancy vacancy = Vacancy.over(dataSource);
 * Plan plan = vacancy.plan(Selection.of("hive").key(12), By.user("odile").because("colony lost"));
 * Outcome outcome = vacancy.run(Approval.of(plan));
 * }</pre>
 *
 * <p>Make one and keep it: it reads the catalog once, when it is made, and is safe for use by many threads. After a
 * change of the schema make another.
 *
 * @since 0.1
 */
public final class Vacancy {
    private static final Logger LOG = LoggerFactory.getLogger(Vacancy.class);

    private final Rules rules;
    private final Dialect dialect;
    private final Planner planner;
    private final Runner runner;
    private final Transactions transactions;
    private final Clock clock;
    private final Committed committed;
    private final Optional<Acting> acting;
    private final Gate gate;

    private Vacancy(
            Rules rules,
            Dialect dialect,
            Planner planner,
            Transactions transactions,
            Clock clock,
            Committed committed,
            Optional<Acting> acting) {
        this.rules = rules;
        this.dialect = dialect;
        this.planner = planner;
        this.transactions = transactions;
        this.clock = clock;
        this.committed = committed;
        this.acting = acting;
        this.gate = new Gate(acting.<Permit>map(person -> person).orElse(Permit.EVERYTHING));
        this.runner = new Runner(planner, dialect, clock, gate);
    }

    /**
     * Reads the catalog of a database, and takes the rules that its schema states.
     *
     * @param dataSource where connections come from, a pool most often
     * @return the entry to all else
     * @throws DatabaseException when the database can't be reached or its metadata can't be read
     * @throws InvalidRequestException when Vacancy has no dialect for it
     */
    public static Vacancy over(DataSource dataSource) {
        return over(dataSource, RuleBook.bySchema());
    }

    /**
     * Reads the catalog of a database, and holds the application's own rules against it.
     *
     * @param dataSource where connections come from, a pool most often
     * @param rules what the application says; for all else the schema decides
     * @return the entry to all else
     * @throws DatabaseException when the database can't be reached or its metadata can't be read
     * @throws RulesException when the rules name what isn't there or ask for what can't be kept; all problems at once
     * @throws InvalidRequestException when Vacancy has no dialect for the database
     */
    public static Vacancy over(DataSource dataSource, RuleBook rules) {
        return over(dataSource, rules, Clock.system(ZoneId.systemDefault()));
    }

    /**
     * Does the same with a clock of the caller's.
     *
     * @param dataSource where connections come from
     * @param rules what the application says
     * @param clock tells when plans are made and runs begin, and what "today" is
     * @return the entry to all else
     * @throws DatabaseException when the database can't be reached or its metadata can't be read
     * @throws RulesException when the rules name what isn't there or ask for what can't be kept; all problems at once
     * @throws InvalidRequestException when Vacancy has no dialect for the database
     */
    public static Vacancy over(DataSource dataSource, RuleBook rules, Clock clock) {
        return over(dataSource, rules, clock, Optional.empty());
    }

    /**
     * Does the same where somebody else manages transactions: inside an open one all is part of it, plans, deletions and restores; and what
     * can't be part of one, such as a bulk run, is refused there.
     *
     * @param dataSource where connections come from when no transaction is open
     * @param rules what the application says
     * @param source tells of the transaction that is open on the thread; {@link TransactionSource#none()} where none ever is
     * @return the entry to all else
     * @throws DatabaseException when the database can't be reached or its metadata can't be read
     * @throws RulesException when the rules name what isn't there or ask for what can't be kept; all problems at once
     * @throws InvalidRequestException when Vacancy has no dialect for the database
     */
    public static Vacancy over(DataSource dataSource, RuleBook rules, TransactionSource source) {
        return over(dataSource, rules, Clock.system(ZoneId.systemDefault()), Optional.of(source));
    }

    private static Vacancy over(
            DataSource dataSource, RuleBook rules, Clock clock, Optional<TransactionSource> source) {
        Limits limits = Limits.usual();
        OwnTransactions own = OwnTransactions.over(dataSource, source.isPresent());
        Dialect dialect = own.dialect();
        Transactions transactions = source.<Transactions>map(
                        managed -> new ManagedTransactions(Managed.by(managed), own, limits.lockWait()))
                .orElse(own);
        return transactions.reading(connection -> {
            Rules known =
                    Rules.of(rules, CatalogReader.read(connection, dialect, rules.schemas(), rules.ownTables()), clock);
            known.catalog().requireTables();
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
            return new Vacancy(
                    known, dialect, planner, transactions, clock, Committed.toNobody(source), Optional.empty());
        });
    }

    /** What a plan can't see is told before the first one is made. */
    private static void warn(Catalog catalog) {
        Check.blindSpots(catalog)
                .forEach(finding -> LOG.warn("{}: {}. {}.", finding.where(), finding.why(), finding.remedy()));
    }

    /**
     * Looks for what is wrong or risky in a schema and in the rules for it, problems of the rules among them that
     * {@link #over(DataSource, RuleBook)} would refuse.
     *
     * @param dataSource where connections come from
     * @param rules what becomes of children, where it isn't as the schema says
     * @return what was found, each with why it matters and the remedy; empty if all is well
     * @throws DatabaseException when the database can't be reached
     */
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

    /**
     * Returns the same over a transaction that the caller has open. Plans see what that transaction has written; a run
     * becomes part of it, and neither commits, rolls back nor closes anything. When a run fails, what it had begun is
     * taken back and the transaction can go on.
     *
     * @param connection the caller's connection, with auto-commit off; used by one thread at a time
     * @return the entry to all else, for as long as that transaction lasts
     * @throws InvalidRequestException when the connection commits each statement by itself
     */
    public Vacancy joining(Connection connection) {
        Transactions joined =
                new JoinedTransaction(connection, dialect, planner.limits().lockWait());
        return new Vacancy(rules, dialect, planner, joined, clock, committed.joined(), acting);
    }

    /**
     * Says that the joined transaction has been committed, so that listeners are told what has happened in it. If it was rolled
     * back instead, leave this out.
     *
     * @throws InvalidRequestException when this isn't joined to a transaction
     */
    public void committed() {
        if (!committed.isJoined()) {
            throw new InvalidRequestException(
                    FailureCode.NO_TRANSACTION,
                    "Nothing is joined to a transaction of the application's here, so there is none that it commits.",
                    "Call it on what joining(connection) gave; elsewhere listeners are told without it.");
        }
        committed.committed();
    }

    /**
     * Returns the same with somebody who is told what has been committed.
     *
     * @param listener is told
     * @return the entry to all else, over the same catalog and rules
     */
    public Vacancy telling(CommitListener listener) {
        return new Vacancy(rules, dialect, planner, transactions, clock, committed.and(listener), acting);
    }

    /**
     * Returns the same for somebody who may do some things and not others. Whatever is planned, run, restored or told by it is asked
     * of the permissions before; a plan only counts the records of tables that its actor may not see.
     *
     * @param by who acts
     * @param permissions says what they may do
     * @return what works for that person only: in the name of another everything is refused, by the code
     *     {@link FailureCode#FORBIDDEN}
     */
    public Vacancy actingFor(By by, Permissions permissions) {
        requireActor(by);
        Acting person = new Acting(by, permissions, catalog());
        return new Vacancy(
                rules,
                dialect,
                permissions.isOfRecords() ? planner.watchedBy(person) : planner,
                transactions,
                clock,
                committed,
                Optional.of(person));
    }

    /**
     * Returns the same with other limits: how long to wait for records that somebody else holds, and how much to hold in
     * memory.
     *
     * @param limits the limits
     * @return the entry to all else, over the same catalog and rules
     */
    public Vacancy within(Limits limits) {
        return new Vacancy(
                rules,
                dialect,
                planner.within(limits),
                transactions.waiting(limits.lockWait()),
                clock,
                committed,
                acting);
    }

    /**
     * Works out all that a deletion would do. Changes nothing and locks nothing.
     *
     * @param selection what to delete
     * @param by who wants it, and why
     * @return the plan; empty when none of the selected records is there
     * @throws InvalidRequestException when the table is unknown or has no key, a key has another shape or type, or a
     *     criteria names what isn't there or would pick everything
     * @throws UnexpectedCountException when the selection says how many records it must match and matches others
     * @throws DatabaseException when the database can't be read
     */
    public Plan plan(Selection selection, By by) {
        requireActor(by);
        acting.ifPresent(person -> {
            person.require(by);
            person.require(Act.PREVIEW, catalog().table(selection.table()).name());
        });
        SelectedRecords selected = SelectedRecords.of(selection, catalog(), clock);
        acting.ifPresent(person -> person.requireSight(selected));
        Plan plan = transactions
                .reading(connection -> planner.preview(connection, selection, by))
                .plan();
        return acting.map(person -> person.sight().seen(plan)).orElse(plan);
    }

    /**
     * Reads the first records that a selection matches, for somebody to pick from.
     *
     * @param selection what is looked at; its guards don't matter here
     * @param by who looks
     * @param most how many records at most, 1 or more
     * @return the records, whole, in the order of their keys
     * @throws InvalidRequestException when the selection doesn't fit the catalog, or the table has no key
     * @throws DatabaseException when the database can't be read
     */
    public List<RecordContent> first(Selection selection, By by, int most) {
        Most.require(most);
        requireActor(by);
        Table table = catalog().table(selection.table());
        acting.ifPresent(person -> {
            person.require(by);
            person.require(Act.PREVIEW, table.name());
            person.require(Act.SEE, table.name());
        });
        table.requireIdentity();
        SelectedRecords selected = SelectedRecords.of(selection, catalog(), clock);
        acting.ifPresent(person -> person.requireSight(selected));
        Optional<Predicate<RecordContent>> mayKnow = acting.filter(
                        person -> person.permissions().isOfRecords())
                .map(person -> record -> person.may(Act.PREVIEW, record));
        List<RecordContent> records = transactions.reading(
                connection -> planner.first(connection, table, selected.picked().condition(), 0, most, mayKnow));
        return acting.map(person -> records.stream().map(person.sight()::seen).toList())
                .orElse(records);
    }

    private static void requireActor(By by) {
        if (by == null) {
            throw new InvalidRequestException(
                    FailureCode.NO_ACTOR,
                    "A deletion needs somebody who asks for it.",
                    "Say who: By.user(name) for a person, By.program(name) for a program.");
        }
    }

    /**
     * Deletes what a program has decided to, all or nothing: planned under lock and carried out in one go. Nobody is asked; where the
     * rules say that a person is, it is refused.
     *
     * @param selection what to delete
     * @param by who wants it, and why
     * @return what happened, with the deleted records as they were
     * @throws InvalidRequestException when the selection doesn't fit the catalog, or by the rules somebody has to agree
     * @throws dev.vacancy.plan.BlockedException when records forbid the deletion
     * @throws UnexpectedCountException when the selection says how many records it must match and matches others
     * @throws LockedException when somebody else is changing one of the records
     * @throws DatabaseException when the database refuses a statement
     * @throws OutcomeUnknownException when the connection was lost before the database had answered the commit
     */
    public Outcome delete(Selection selection, By by) {
        return delete(selection, by, Reporting.nothing());
    }

    /**
     * Does the same and tells more.
     *
     * @param selection what to delete
     * @param by who wants it, and why
     * @param reporting what to tell besides the outcome
     * @return what happened, with the keys that were asked for
     * @throws InvalidRequestException as for {@link #delete(Selection, By)}
     */
    public Outcome delete(Selection selection, By by, Reporting reporting) {
        requireActor(by);
        if (acting.isPresent()) {
            // What somebody may do depends on how much of a table it is, which only a plan tells.
            return run(Approval.of(plan(selection, by)), reporting);
        }
        return told(runner.delete(selection, by, transactions, reporting));
    }

    /**
     * Carries out what was agreed to, all or nothing: a deletion or the emptying of a table. {@link History#restore} undoes a run,
     * {@link BulkRuns#start} deletes in chunks, {@link #erase} removes what the audit trail holds as well.
     *
     * @param approval proof that somebody agreed to a plan
     * @return what happened, with the deleted records as they were
     * @throws StalePlanException when the records changed since, so that the plan would be another one now
     * @throws LockedException when somebody else is changing one of the records
     * @throws DatabaseException when the database refuses a statement
     * @throws OutcomeUnknownException when the connection was lost before the database had answered the commit
     * @throws InvalidRequestException when the approval is of something else, by the rules somebody hasn't agreed, or the default of a
     *     foreign key, set by ON DELETE SET DEFAULT, names a record that goes too
     */
    public Outcome run(Approval approval) {
        return run(approval, Reporting.nothing());
    }

    /**
     * Does the same and tells more: each selected record as it was, however many there are, or the keys of what went with
     * them.
     *
     * @param approval proof that somebody agreed to a plan
     * @param reporting what to tell besides the outcome; nothing where a table is emptied
     * @return what happened, with the keys that were asked for
     * @throws InvalidRequestException when the reporting names a table that isn't there, and as for {@link #run(Approval)}
     * @throws StalePlanException as for {@link #run(Approval)}
     * @throws LockedException as for {@link #run(Approval)}
     * @throws DatabaseException as for {@link #run(Approval)}
     */
    public Outcome run(Approval approval, Reporting reporting) {
        return run(approval, reporting, Attendant.NOBODY);
    }

    /** What is permitted is asked of the plan under lock; how much of a table it is, only the plan that was shown knows. */
    private Outcome run(Approval approval, Reporting reporting, Attendant attendant) {
        requirePermission(approval.plan());
        if (approval.plan() instanceof EmptyingPlan) {
            return told(runner.empty(approval, transactions, attendant));
        }
        requireDeletion(approval);
        acting.ifPresent(person -> reporting.keysOf().forEach(table -> person.require(Act.SEE, nameOf(table))));
        return told(runner.run(approval, transactions, reporting, attendant));
    }

    private static Plan requireDeletion(Approval approval) {
        if (approval.plan() instanceof Plan plan) {
            return plan;
        }
        throw new InvalidRequestException(
                FailureCode.APPROVAL_OF_ANOTHER,
                "This approval is of no deletion.",
                "Restore by history().restore(approval), erase from the trail by history().erase(approval).");
    }

    /** Refuses what whoever acts may not do. */
    void requirePermission(Proposal plan) {
        acting.ifPresent(person -> person.require(plan));
    }

    /**
     * Works out what emptying a whole table would do, in the fastest way that the database has. Changes nothing and locks
     * nothing.
     *
     * @param emptying which table, and whether its triggers may be passed over
     * @param by who wants it, and why
     * @return the plan
     * @throws InvalidRequestException when the table is unknown, or links point at it
     * @throws DatabaseException when the database can't be read
     */
    public EmptyingPlan plan(Emptying emptying, By by) {
        requireActor(by);
        acting.ifPresent(person -> {
            person.require(by);
            person.require(Act.PREVIEW, catalog().table(emptying.table()).name());
        });
        return runner.plan(emptying, by, transactions);
    }

    /**
     * Deletes a record for good as was agreed to, and removes its content from the audit trail, in one transaction: a person's
     * right to be forgotten. {@link History#erase} does the second part for a record that is gone already.
     *
     * @param approval proof that somebody agreed to erase this one record: {@link Approval#ofErasing}, or the answer to
     *     {@link dev.vacancy.confirm.Question#aboutErasing}
     * @return what happened
     * @throws InvalidRequestException when the plan is of another number of records, or only marks it, or there is no trail
     * @throws StalePlanException as for {@link #run(Approval)}
     * @throws LockedException as for {@link #run(Approval)}
     * @throws DatabaseException as for {@link #run(Approval)}
     */
    public ErasureOutcome erase(Approval approval) {
        return erase(approval, Attendant.NOBODY);
    }

    private ErasureOutcome erase(Approval approval, Attendant attendant) {
        Plan plan = requireDeletion(approval);
        acting.ifPresent(person -> {
            person.requireDeletion(plan);
            person.require(Act.DELETE_FOR_GOOD, plan.table().name());
        });
        if (plan.selected() != 1 || plan.isSoft()) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "To erase is to remove a single record for good, and this plan "
                            + (plan.isSoft() ? "only marks it." : "is of " + plan.selected() + " records."),
                    "Plan a selection of one key with forGood().");
        }
        AtomicLong entries = new AtomicLong();
        Outcome outcome = told(runner.erase(
                approval,
                transactions,
                attendant,
                trail().erasing(plan.table(), plan.roots().get(0).key(), entries::set)));
        return new RunErasure(outcome, entries.get());
    }

    /** Carries out what was agreed to, whatever it is, with somebody who writes in the same transaction. */
    void carryOut(Approval approval, BulkOptions options, Attendant attendant) {
        acting.ifPresent(person -> permitted(trail(), person).requireRecords(approval.plan()));
        switch (approval.mode()) {
            case ERASING -> erase(approval, attendant);
            case IN_CHUNKS -> {
                requirePermission(approval.plan());
                chunked().start(approval, options, attendant);
            }
            case AT_ONCE -> {
                if (approval.plan() instanceof RestorePlan) {
                    trail().restore(approval, attendant);
                } else if (approval.plan() instanceof ErasurePlan) {
                    trail().erase(approval, attendant);
                } else if (approval.plan() instanceof MaskingPlan) {
                    trail().mask(approval, attendant);
                } else {
                    run(approval, Reporting.nothing(), attendant);
                }
            }
        }
    }

    private Outcome told(Outcome outcome) {
        committed.happened(listener -> listener.deleted(outcome));
        return acting.map(person -> person.sight().seen(outcome)).orElse(outcome);
    }

    /**
     * Tells which records of a table are active, for the application's own queries.
     *
     * @param table a table with a marker
     * @return criteria and SQL
     * @throws InvalidRequestException when it is unknown or has no marker
     */
    public Active active(String table) {
        return Active.of(catalog().table(table), rules, dialect, clock);
    }

    /**
     * Selects the soft-deleted records whose retention is over, to be purged: plan and run it like any deletion, or as a bulk
     * run.
     *
     * @param table a table with a retention
     * @return the selection
     * @throws InvalidRequestException when its records are kept for always
     */
    public Selection expired(String table) {
        return Expired.of(catalog().table(table), rules, clock);
    }

    /**
     * Returns the audit trail: what happened, and how it is undone.
     *
     * @return the trail that the rules name; where they name none, its methods refuse, except the one that lists soft-deleted records
     */
    public History history() {
        TrailHistory whole = trail();
        return acting.<History>map(person -> permitted(whole, person)).orElse(whole);
    }

    private PermittedHistory permitted(TrailHistory whole, Acting person) {
        return new PermittedHistory(whole, person, this::nameOf);
    }

    private TrailHistory trail() {
        return new TrailHistory(
                planner,
                dialect,
                transactions,
                clock,
                outcome -> committed.happened(listener -> listener.restored(outcome)),
                gate,
                new BulkWords(dialect));
    }

    /** A table that isn't there any more may still stand in the trail. */
    private String nameOf(String table) {
        return catalog().tables().stream()
                .map(Table::name)
                .filter(table::equalsIgnoreCase)
                .findFirst()
                .orElse(table);
    }

    /**
     * Returns the entry to bulk runs: large deletions in chunks, each committed by itself, whose state survives a crash.
     *
     * @return bulk runs over the same rules
     * @throws InvalidRequestException when this is joined to a transaction, which can't be cut into chunks
     */
    public BulkRuns bulk() {
        BulkRuns all = chunked();
        return acting.<BulkRuns>map(person -> new PermittedBulkRuns(all, person))
                .orElse(all);
    }

    private ChunkedRuns chunked() {
        if (transactions.joinedAt().isPresent()) {
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
                run -> committed.happened(listener -> listener.progressed(run)),
                gate);
    }

    /**
     * Returns the entry to approvals that travel, signed, and are redeemed once.
     *
     * @param keys what they are signed with
     * @return the entry to them
     */
    public Approvals approvals(ApprovalKeys keys) {
        return new Approvals(
                this,
                new Redemption(
                        keys, transactions, dialect, clock, planner.limits().lockWait()),
                BulkOptions.usual());
    }

    /**
     * Returns what the database holds, with the links that only the rules declare.
     *
     * @return the catalog, as it was when this object was made
     */
    public Catalog catalog() {
        return rules.catalog();
    }

    /**
     * Returns what happens to the children on each link.
     *
     * @return the rules
     */
    public Rules rules() {
        return rules;
    }
}
