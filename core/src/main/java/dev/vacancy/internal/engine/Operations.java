package dev.vacancy.internal.engine;

import dev.vacancy.Active;
import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.CommitListener;
import dev.vacancy.Emptying;
import dev.vacancy.EmptyingPlan;
import dev.vacancy.ErasureOutcome;
import dev.vacancy.Limits;
import dev.vacancy.Outcome;
import dev.vacancy.Permissions;
import dev.vacancy.Plan;
import dev.vacancy.Proposal;
import dev.vacancy.Reporting;
import dev.vacancy.Selection;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.followup.FollowUpHandler;
import dev.vacancy.followup.FollowUps;
import dev.vacancy.history.History;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.RedeemedApprovals;
import dev.vacancy.internal.running.Redeeming;
import dev.vacancy.internal.running.StoredReceipt;
import dev.vacancy.internal.running.TakenException;
import dev.vacancy.retirement.Retirement;
import dev.vacancy.retirement.RetirementOutcome;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.retirement.Retirements;
import dev.vacancy.trace.Trace;
import dev.vacancy.trace.TraceOutcome;
import dev.vacancy.trace.TracePlan;
import dev.vacancy.trace.TracedRecord;
import java.sql.Connection;
import java.time.Clock;
import java.util.List;
import java.util.function.Consumer;

/** What stands behind {@code Vacancy}, method by method: one for relational databases, one for those of another kind. */
public sealed interface Operations permits Engine, StoreEngine {
    /** Works inside a transaction that the caller has open. */
    Operations joining(Connection connection);

    /** Adds a listener. */
    Operations withListener(CommitListener listener);

    /** Has somebody handle what follows. */
    Operations withFollowUp(String name, FollowUpHandler handler);

    /** Works for one person, as far as the permissions go. */
    Operations actingFor(By by, Permissions permissions);

    /** Works within other limits. */
    Operations withLimits(Limits limits);

    /** Works out what would happen. */
    Plan plan(Selection selection, By by);

    /** Lists the first records that a selection matches, as far as whoever acts may see them. */
    List<RecordContent> list(Selection selection, By by, int most);

    /** Deletes what a program has decided to. */
    Outcome delete(Selection selection, By by, Reporting reporting);

    /** Carries out a deletion or an emptying that was agreed to. */
    Outcome run(Approval approval, Reporting reporting);

    /** Refuses what whoever acts may not do. */
    void requirePermission(Proposal plan);

    /**
     * Carries out what was agreed to, whatever it is, by an approval that is redeemed with it.
     *
     * @throws TakenException when somebody else has redeemed it, or is about to
     */
    StoredReceipt redeem(Approval approval, BulkOptions options, Redeeming redeeming);

    /** Returns where it is kept which approvals were redeemed. */
    RedeemedApprovals redeemed();

    /** Works out what would happen. */
    EmptyingPlan plan(Emptying emptying, By by);

    /** Deletes a record and what the trail holds of it. */
    ErasureOutcome erase(Approval approval);

    /** Works out what setting a column or a table aside would do. */
    RetirementPlan plan(Retirement retirement, By by);

    /** Carries out a step of a retirement. */
    RetirementOutcome retire(Approval approval);

    /** Returns what has retired, as far as whoever acts may see and change it. */
    Retirements retirements();

    /** Looks for what is known of a person. */
    Trace trace(String table, KeyGiven key);

    /** Hands out what is known of a person. */
    void export(Trace trace, Consumer<TracedRecord> each);

    /** Works out what erasing it would do. */
    TracePlan plan(Trace trace, By by);

    /** Erases what is known of a person. */
    TraceOutcome eraseTrace(Approval approval);

    /** Renders which records of a table are active. */
    Active active(String table);

    /** Selects what may be purged. */
    Selection pastRetention(String table);

    /** Returns the trail, as far as whoever acts may see and change it. */
    History history();

    /** Returns what follows runs. */
    FollowUps followUps();

    /** Returns bulk runs, as far as whoever acts may start, see and steer them. */
    BulkRuns bulk();

    /** Returns the catalog with the links that only the rules declare. */
    Catalog catalog();

    /** Returns the rules, held against the catalog. */
    Rules rules();

    /** Returns what tells the time. */
    Clock clock();

    /** Returns the limits within which it works. */
    Limits limits();
}
