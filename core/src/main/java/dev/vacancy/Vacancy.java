package dev.vacancy;

import static java.util.Objects.requireNonNull;

import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.followup.FollowUps;
import dev.vacancy.history.History;
import dev.vacancy.internal.engine.Engine;
import dev.vacancy.internal.engine.Operations;
import dev.vacancy.retirement.Retirement;
import dev.vacancy.retirement.RetirementOutcome;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.retirement.Retirements;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.RulesException;
import dev.vacancy.trace.Trace;
import dev.vacancy.trace.TraceOutcome;
import dev.vacancy.trace.TracePlan;
import dev.vacancy.trace.TracedRecord;
import java.sql.Connection;
import java.time.Clock;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;
import javax.sql.DataSource;

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
    static {
        Engine.accessBy(vacancy -> vacancy.engine, Vacancy::new);
    }

    private final Operations engine;

    private Vacancy(Operations engine) {
        this.engine = engine;
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
        requireNonNull(dataSource, "dataSource");
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
        requireNonNull(dataSource, "dataSource");
        requireNonNull(rules, "rules");
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
        requireNonNull(dataSource, "dataSource");
        requireNonNull(rules, "rules");
        requireNonNull(clock, "clock");
        return new Vacancy(Engine.over(dataSource, rules, clock, Optional.empty()));
    }

    /**
     * Does the same where records are looked at on a replica: deletions are planned and records listed there, and all else, the check that a
     * plan still holds above all, is done on the server that writes. A replica that is behind costs a second plan at the most.
     *
     * @param reader where connections to a replica come from, one that the database itself keeps
     * @param writer where connections to the server that writes come from
     * @param rules what the application says
     * @return the entry to all else
     * @throws DatabaseException when one of them can't be reached or the metadata can't be read
     * @throws RulesException when the rules name what isn't there or ask for what can't be kept; all problems at once
     * @throws InvalidRequestException when Vacancy has no dialect for the database, or the two lead to different ones
     */
    public static Vacancy over(DataSource reader, DataSource writer, RuleBook rules) {
        requireNonNull(reader, "reader");
        requireNonNull(writer, "writer");
        requireNonNull(rules, "rules");
        return new Vacancy(Engine.over(reader, writer, rules, Clock.system(ZoneId.systemDefault())));
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
        requireNonNull(dataSource, "dataSource");
        requireNonNull(rules, "rules");
        requireNonNull(source, "source");
        return new Vacancy(Engine.over(dataSource, rules, Clock.system(ZoneId.systemDefault()), Optional.of(source)));
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
        requireNonNull(dataSource, "dataSource");
        requireNonNull(rules, "rules");
        return Engine.check(dataSource, rules);
    }

    /**
     * Returns the same over a transaction that the caller has open. Plans see what that transaction has written; a run
     * becomes part of it, and neither commits, rolls back nor closes anything. When a run fails, what it had begun is
     * taken back and the transaction can go on. Commit listeners are notified only where a {@link TransactionSource} says when it has been
     * committed.
     *
     * @param connection the caller's connection, with auto-commit off; used by one thread at a time
     * @return the entry to all else, for as long as that transaction lasts
     * @throws InvalidRequestException when the connection commits each statement by itself
     */
    public Vacancy joining(Connection connection) {
        requireNonNull(connection, "connection");
        return new Vacancy(engine.joining(connection));
    }

    /**
     * Returns the same with a listener that is notified of what has been committed.
     *
     * @param listener is notified
     * @return the entry to all else, over the same catalog and rules
     */
    public Vacancy withListener(CommitListener listener) {
        requireNonNull(listener, "listener");
        return new Vacancy(engine.withListener(listener));
    }

    /**
     * Returns the same with somebody who does what follows outside of the database. It is asked before a record comes back, and called by
     * {@link #followUps()}.
     *
     * @param name the follow-up, as the rules name it
     * @param handler does it
     * @return the entry to all else, over the same catalog and rules
     * @throws InvalidRequestException when the rules name no such follow-up
     */
    public Vacancy withFollowUp(String name, FollowUpHandler handler) {
        requireNonNull(name, "name");
        requireNonNull(handler, "handler");
        return new Vacancy(engine.withFollowUp(name, handler));
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
        requireNonNull(permissions, "permissions");
        return new Vacancy(engine.actingFor(by, permissions));
    }

    /**
     * Returns the same with other limits: how long to wait for records that somebody else holds, and how much to hold in
     * memory.
     *
     * @param limits the limits
     * @return the entry to all else, over the same catalog and rules
     */
    public Vacancy withLimits(Limits limits) {
        requireNonNull(limits, "limits");
        return new Vacancy(engine.withLimits(limits));
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
        requireNonNull(selection, "selection");
        return engine.plan(selection, by);
    }

    /**
     * Lists the first records that a selection matches, for somebody to pick from.
     *
     * @param selection what is looked at; its guards don't matter here
     * @param by who looks
     * @param most how many records at most, 1 or more
     * @return the records, whole, in the order of their keys
     * @throws InvalidRequestException when the selection doesn't fit the catalog, or the table has no key
     * @throws DatabaseException when the database can't be read
     */
    public List<RecordContent> list(Selection selection, By by, int most) {
        requireNonNull(selection, "selection");
        return engine.list(selection, by, most);
    }

    /**
     * Deletes what a program has decided to, all or nothing: planned under lock and carried out in one go. Nobody is asked; where the
     * rules say that a person is, it is refused.
     *
     * @param selection what to delete
     * @param by who wants it, and why
     * @return what happened, with the deleted records as they were
     * @throws InvalidRequestException when the selection doesn't fit the catalog, or by the rules somebody has to agree
     * @throws dev.vacancy.BlockedException when records forbid the deletion
     * @throws UnexpectedCountException when the selection says how many records it must match and matches others
     * @throws LockedException when somebody else is changing one of the records
     * @throws StalePlanException when records changed between the lock and their deletion
     * @throws NotAsPlannedException when a trigger, a rule or row-level security of the database keeps a record, or the database took more
     * @throws DatabaseException when the database refuses a statement
     * @throws OutcomeUnknownException when the connection was lost before the database had answered the commit
     */
    public Outcome delete(Selection selection, By by) {
        requireNonNull(selection, "selection");
        return delete(selection, by, Reporting.none());
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
        requireNonNull(selection, "selection");
        requireNonNull(reporting, "reporting");
        return engine.delete(selection, by, reporting);
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
        requireNonNull(approval, "approval");
        return run(approval, Reporting.none());
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
        requireNonNull(approval, "approval");
        requireNonNull(reporting, "reporting");
        return engine.run(approval, reporting);
    }

    /**
     * Works out what setting a column or a table aside would do that isn't needed any more: what stands on it, who still uses it, what would
     * go along. Changes nothing.
     *
     * @param retirement the column or the table
     * @param by who wants it, and why
     * @return the plan, whose question is answered by the name
     * @throws InvalidRequestException when there is no such column or table, or nothing that could go along has a name that was given
     * @throws DatabaseException when the database doesn't tell what stands on it
     */
    public RetirementPlan plan(Retirement retirement, By by) {
        requireNonNull(retirement, "retirement");
        return engine.plan(retirement, by);
    }

    /**
     * Carries out a step of a retirement that was agreed to: sets aside, drops, or brings back. It takes transactions of its own. PostgreSQL
     * and SQLite do all of it or nothing; H2 and MariaDB commit each change, so there a step that fails in between is taken back change by
     * change, and one whose process dies is taken back by {@link Retirements#planReturn}. This object still knows the catalog as it was: make
     * another one once a column or a table has gone or come back.
     *
     * @param approval proof that somebody agreed to a {@link RetirementPlan}
     * @return what was done
     * @throws StalePlanException when something else stands on it by now
     * @throws LockedException when somebody uses it just now; nobody is kept waiting for that
     * @throws NotAsPlannedException when the content that was written isn't all of it
     * @throws InvalidRequestException when something is in the way, the approval is of something else, or a transaction of the application's
     *     is open
     * @throws DatabaseException when the database refuses a statement
     */
    public RetirementOutcome retire(Approval approval) {
        requireNonNull(approval, "approval");
        return engine.retire(approval);
    }

    /**
     * Returns what has retired, and how it is dropped or brought back.
     *
     * @return the retirements
     */
    public Retirements retirements() {
        return engine.retirements();
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
        requireNonNull(emptying, "emptying");
        return engine.plan(emptying, by);
    }

    /**
     * Deletes a record for good as was agreed to, and removes its content from the audit trail, in one transaction: a person's
     * right to be forgotten. {@link History#erase} does the second part for a record that is gone already.
     *
     * @param approval proof that somebody agreed to erase this one record: {@link Approval#ofErasing}, or the answer to
     *     {@link dev.vacancy.Question#aboutErasing}
     * @return what happened
     * @throws InvalidRequestException when the plan is of another number of records, or only marks it, or there is no trail
     * @throws StalePlanException as for {@link #run(Approval)}
     * @throws LockedException as for {@link #run(Approval)}
     * @throws DatabaseException as for {@link #run(Approval)}
     */
    public ErasureOutcome erase(Approval approval) {
        requireNonNull(approval, "approval");
        return engine.erase(approval);
    }

    /**
     * Finds all that the database knows of one person: records by links to any depth, what the audit trail, bulk runs and follow-ups have, and
     * where texts stand that they are known by, as far as {@link RuleBook#trace} names columns to look through. Changes nothing.
     *
     * @param table the table of the person's record
     * @param key its key, value by value, or a map of values by column
     * @return what is known; empty if nothing is
     * @throws InvalidRequestException when the table is unknown or has no key, or the key has another shape or type
     * @throws DatabaseException when the database can't be read
     */
    public Trace trace(String table, Object... key) {
        requireNonNull(table, "table");
        requireNonNull(key, "key");
        return engine.trace(table, Selection.of(table).key(key).keys().get(0));
    }

    /**
     * Hands out all that the database knows of one person, record by record: a person's right to a copy of it, and to take it elsewhere (GDPR,
     * articles 15 and 20). Of records that aren't the person's own only what concerns them is told.
     *
     * @param trace what was found of them
     * @param each takes each record, in the order of the parts
     * @throws DatabaseException when the database can't be read
     */
    public void export(Trace trace, Consumer<TracedRecord> each) {
        requireNonNull(trace, "trace");
        requireNonNull(each, "each");
        engine.export(trace, each);
    }

    /**
     * Works out what erasing all that is known of a person would do: with each part what the rules say. Changes nothing.
     *
     * @param trace what was found of them; it is looked at anew
     * @param by who wants it, and why, without the name of the person
     * @return the plan, to be asked about and approved as any other
     * @throws InvalidRequestException when there is no audit trail, or {@code by} has a text that is to be erased
     * @throws DatabaseException when the database can't be read
     */
    public TracePlan plan(Trace trace, By by) {
        requireNonNull(trace, "trace");
        return engine.plan(trace, by);
    }

    /**
     * Erases all that is known of a person as was agreed to, in one transaction, and looks once more before it is committed.
     *
     * @param approval proof that somebody agreed to a {@link TracePlan}
     * @return what went, what was masked, and what is left
     * @throws InvalidRequestException when the approval is of something else, or by the rules somebody hasn't agreed
     * @throws BlockedException when records forbid it
     * @throws StalePlanException when something else is known by now
     * @throws NotAsPlannedException when the second look finds more than what was to stay
     * @throws LockedException when somebody else is changing one of the records
     * @throws DatabaseException when the database refuses a statement
     * @throws OutcomeUnknownException when the connection was lost before the database had answered the commit
     */
    public TraceOutcome eraseTrace(Approval approval) {
        requireNonNull(approval, "approval");
        return engine.eraseTrace(approval);
    }

    /**
     * Tells which records of a table are active, for the application's own queries.
     *
     * @param table a table with a marker
     * @return criteria and SQL
     * @throws InvalidRequestException when it is unknown or has no marker
     */
    public Active active(String table) {
        requireNonNull(table, "table");
        return engine.active(table);
    }

    /**
     * Selects the soft-deleted records whose retention is over, to be purged: plan and run it like any deletion, or as a bulk
     * run.
     *
     * @param table a table with a retention
     * @return the selection
     * @throws InvalidRequestException when its records are kept for always
     */
    public Selection pastRetention(String table) {
        requireNonNull(table, "table");
        return engine.pastRetention(table);
    }

    /**
     * Returns the audit trail: what happened, and how it is undone.
     *
     * @return the trail that the rules name; where they name none, its methods refuse, except the one that lists soft-deleted records
     */
    public History history() {
        return engine.history();
    }

    /**
     * Opens what follows runs outside of the database.
     *
     * @return the messages, and the way to have them handled
     * @throws InvalidRequestException when the rules name no follow-up, or it is called inside the application's transaction
     */
    public FollowUps followUps() {
        return engine.followUps();
    }

    /**
     * Returns the entry to bulk runs: large deletions in chunks, each committed by itself, whose state survives a crash.
     *
     * @return bulk runs over the same rules
     * @throws InvalidRequestException when this is joined to a transaction, which can't be cut into chunks
     */
    public BulkRuns bulk() {
        return engine.bulk();
    }

    /**
     * Returns what the database holds, with the links that only the rules declare.
     *
     * @return the catalog, as it was when this object was made
     */
    public Catalog catalog() {
        return engine.catalog();
    }

    /**
     * Tells which kind of database this is over, and how much of it is known.
     *
     * @return such as {@code Vacancy over PostgreSQL, 13 tables}
     */
    @Override
    public String toString() {
        return engine.toString();
    }
}
