package dev.vacancy.internal.planning;

import dev.vacancy.By;
import dev.vacancy.Held;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Limits;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.UnexpectedCountException;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.SelectedRecords;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.Purpose;
import dev.vacancy.internal.store.RecordReader;
import dev.vacancy.internal.store.RecordStore;
import dev.vacancy.internal.store.Store;
import dev.vacancy.internal.trail.HoldsInForce;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

/**
 * Works out plans in one transaction. It only ever reads, and locks what a run is to change.
 *
 * @since 0.1
 */
public final class Planning {
    private final Rules rules;
    private final Clock clock;
    private final Limits limits;
    private final RecordObserver observer;
    private final Store database;

    /**
     * Plans in a transaction.
     *
     * @param rules the rule of each link of the catalog
     * @param clock tells when a plan was made
     * @param limits how many keys are held, and how long is waited for locks
     * @param observer looks at each selected record
     * @param database the database, as the transaction finds it
     */
    public Planning(Rules rules, Clock clock, Limits limits, RecordObserver observer, Store database) {
        this.rules = rules;
        this.clock = clock;
        this.limits = limits;
        this.observer = observer;
        this.database = database;
    }

    /**
     * Plans in another transaction.
     *
     * @param other the database, as that transaction finds it
     * @return a planning that is like this one otherwise
     */
    public Planning in(Store other) {
        return new Planning(rules, clock, limits, observer, other);
    }

    /**
     * Tells what a plan that is made here is of.
     *
     * @param request the digest of what is asked for
     * @return database, rules and request
     * @throws InvalidRequestException when the connection means another schema than the one that the catalog was read from
     */
    public Scope scope(String request) {
        return new Scope(database.database(), rules.digest(), request);
    }

    /**
     * Plans a deletion to be looked at: with samples, without locks. The transaction had best see one state of the database throughout.
     *
     * @param selection what to delete
     * @param by who wants it, and why
     * @return the plan
     * @throws InvalidRequestException when the selection doesn't fit the catalog
     * @throws UnexpectedCountException when the selection says how many records it must match and matches others
     */
    public Planned preview(Selection selection, By by) {
        return plan(records(Purpose.LOOKING), selection, by, clock.instant(), holds());
    }

    /**
     * Tells what would become of records, whether that could be done or not: by whoever has no right to, under a hold, in a circle.
     *
     * @param selection which records
     * @param by who looks
     * @return what would become of them, without steps
     */
    public Planned trace(Selection selection, By by) {
        return plan(records(Purpose.TRACING), selection, by, clock.instant(), HoldsInForce.NONE);
    }

    /**
     * Plans the same deletion once more, to be run: the records are locked as they are read, until the transaction ends,
     * and no samples are taken. The transaction has to see what others have committed.
     *
     * @param plan the plan that was approved
     * @param holds what must not go, where it was read before; empty to read it here
     * @return the plan as it is now
     * @throws UnexpectedCountException as for {@link #preview}
     */
    public Planned lock(Plan plan, Optional<HoldsInForce> holds) {
        RecordStore records = locking(plan.table(), Purpose.COMPARING);
        return plan(records, plan.selection(), plan.by(), plan.madeAt(), holds.orElseGet(this::holds));
    }

    /**
     * Plans a deletion to be run at once: the records are locked as they are read. The transaction has to see what others have committed.
     *
     * @param selection what to delete
     * @param by who wants it, and why
     * @param holds what must not go, where it was read before; empty to read it here
     * @return the plan
     */
    public Planned lock(Selection selection, By by, Optional<HoldsInForce> holds) {
        return lock(selection, by, holds, Purpose.COMPARING);
    }

    /**
     * Does the same where nobody has agreed to certain records and none is asked for afterwards: those that go along are locked and
     * counted, and children that nothing hangs on are counted by the statement that deletes them.
     *
     * @param selection what to delete
     * @param by who wants it, and why
     * @param holds what must not go, where it was read before; empty to read it here
     * @param reported whether keys are told afterwards of what went, so that it has to be known before
     * @return the plan, with no more than is needed to carry it out
     */
    public Planned decide(Selection selection, By by, Optional<HoldsInForce> holds, boolean reported) {
        boolean counted = reported || rules.recording().isPresent() || selection.isSkippingBlocked();
        return lock(selection, by, holds, counted ? Purpose.COMPARING : Purpose.DELETING);
    }

    private Planned lock(Selection selection, By by, Optional<HoldsInForce> holds, Purpose purpose) {
        RecordStore records = locking(rules.catalog().table(selection.table()), purpose);
        return plan(records, selection, by, clock.instant(), holds.orElseGet(this::holds));
    }

    /**
     * Reads what must not go. Where reading in a transaction that writes would lock all that is read, this is done before.
     *
     * @return the holds that nobody has lifted; none without a trail
     */
    public HoldsInForce holds() {
        return rules.recording().map(database::holds).orElse(HoldsInForce.NONE);
    }

    /**
     * Tells which of some records are held.
     *
     * @param table the table
     * @param condition picks the records
     * @param inForce the holds that nobody has lifted
     * @return each hold that is on any of them
     */
    public List<Held> held(Table table, Condition condition, HoldsInForce inForce) {
        return new Holds(rules, records(Purpose.LOOKING), clock, inForce).on(table, condition);
    }

    /**
     * Reads single records, without waiting for anybody.
     *
     * @return what reads them
     */
    public RecordReader reader() {
        return new RecordReader(records(Purpose.LOOKING), rules.catalog());
    }

    /**
     * Reads the keys of the selected records one by one, however many there are.
     *
     * @param selection what is selected, not by keys
     * @param moment the moment that relative times are told from
     * @param each takes each key, in their order
     * @return the digest of all of them
     */
    public String eachKey(Selection selection, Instant moment, Consumer<Key> each) {
        SelectedRecords selected = selected(selection, moment);
        return reader().eachKey(selected.table(), selected.picked().condition(), each);
    }

    /**
     * Shows each selected record to whoever looks on, before they are written down to go.
     *
     * @param selection what is selected
     * @param moment the moment that relative times are told from
     */
    public void look(Selection selection, Instant moment) {
        SelectedRecords selected = selected(selection, moment);
        reader().eachRecord(
                        selected.table(),
                        selected.picked().condition(),
                        record -> observer.look(selection, record, true));
    }

    /** {@return whether somebody looks on} */
    public boolean isWatched() {
        return observer != RecordObserver.NOBODY;
    }

    /** {@return the same, with nobody who looks on} */
    public Planning unwatched() {
        return new Planning(rules, clock, limits, RecordObserver.NOBODY, database);
    }

    private RecordStore locking(Table table, Purpose purpose) {
        RecordStore records = records(purpose);
        records.beginWriting(table);
        return records;
    }

    RecordStore records(Purpose purpose) {
        return database.records(rules.catalog(), limits, purpose);
    }

    Clock clock() {
        return clock;
    }

    /** Relative times of a selection are told from the moment when it was first looked at, whenever it is run. */
    private SelectedRecords selected(Selection selection, Instant moment) {
        return SelectedRecords.of(selection, rules.catalog(), Clock.fixed(moment, clock.getZone()));
    }

    private Planned plan(RecordStore records, Selection asked, By by, Instant moment, HoldsInForce held) {
        Scope scope = scope(RequestDigest.of(asked, rules.catalog()));
        SelectedRecords selection = selected(asked, moment);
        return new Comparability(selection).reading(() -> {
            Rules applying = asked.isPurge()
                    ? rules.purging(selection.table(), Clock.fixed(moment, clock.getZone()))
                    : rules.deleting(
                            selection.table(),
                            asked.isHard() || new HardDeletions(rules, records, clock).decides(selection));
            return new DeletionPlanning(rules, applying, records, clock, limits, selection, held, scope)
                    .plan(asked, by, moment, observer);
        });
    }
}
