package dev.vacancy.internal.restoring;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Criteria;
import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.Selection;
import dev.vacancy.catalog.Key;
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
import dev.vacancy.internal.catalog.GivenKeys;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.failure.LockFailures;
import dev.vacancy.internal.follow.FollowUpHandlers;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.request.Most;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.CommitInquiry;
import dev.vacancy.internal.running.ConflictRetry;
import dev.vacancy.internal.running.RunParticipant;
import dev.vacancy.internal.running.Runner;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.running.Work;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.ReadableImage;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.SoughtText;
import dev.vacancy.internal.trail.SqlTrailStore;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.TrailKey;
import dev.vacancy.internal.trail.TrailStore;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.Consumer;
import java.util.function.LongConsumer;
import java.util.function.Predicate;

/**
 * The audit trail of a database.
 *
 * @since 0.1
 */
public final class TrailHistory implements SeenHistory {
    private final Rules rules;
    private final Dialect dialect;
    private final Planner planner;
    private final Transactions transactions;
    private final Clock clock;
    private final Optional<TrailTables> kept;
    private final Consumer<RestoreOutcome> restored;
    private final Gate gate;
    private final TextElsewhere elsewhere;
    private final FollowUpHandlers followers;

    /**
     * Opens the trail.
     *
     * @param planner reads records
     * @param dialect the dialect of the database
     * @param transactions where to read and write
     * @param clock tells when runs began
     * @param restored is told of each restore, once its transaction has ended well
     * @param gate lets through what was agreed to
     * @param elsewhere what people wrote beside the trail
     * @param followers who handles what follows outside of the database
     */
    public TrailHistory(
            Planner planner,
            Dialect dialect,
            Transactions transactions,
            Clock clock,
            Consumer<RestoreOutcome> restored,
            Gate gate,
            TextElsewhere elsewhere,
            FollowUpHandlers followers) {
        this.followers = followers;
        this.elsewhere = elsewhere;
        this.gate = gate;
        this.restored = restored;
        this.rules = planner.rules();
        this.dialect = dialect;
        this.planner = planner;
        this.transactions = transactions;
        this.clock = clock;
        this.kept = rules.recording().map(recording -> new TrailTables(recording.trail(), dialect));
    }

    private TrailTables tables() {
        return kept.orElseThrow(HistoryRequests::withoutTrail);
    }

    private <T> T writing(String what, UUID run, Work<T> work) {
        return writing(what, run, RunParticipant.NOBODY, work);
    }

    /** Writes a run, or all but what the trail's own run of that id has done already. */
    private <T> T writing(String what, UUID run, RunParticipant participant, Work<T> work) {
        AtomicReference<T> result = new AtomicReference<>();
        try {
            ConflictRetry.tryingAgain(
                    transactions,
                    true,
                    () -> transactions.<Void>writing(connection -> {
                        try {
                            result.set(work.on(connection));
                            return null;
                        } catch (SQLException failure) {
                            if (dialect.isLockFailure(failure)) {
                                throw LockFailures.ofConflict("the audit trail", failure);
                            }
                            throw new DatabaseException(what, "Nothing was changed.", failure);
                        }
                    }));
        } catch (OutcomeUnknownException unknown) {
            new CommitInquiry(rules, dialect, transactions).settle(run, participant, unknown);
        }
        return result.get();
    }

    @Override
    public List<TrailRun> runs(HistoryQuery query) {
        return reading().runs(query, table -> true);
    }

    @Override
    public List<TrailRun> runs(HistoryQuery query, Predicate<String> visible) {
        return reading().runs(query, visible);
    }

    @Override
    public List<TrailEntry> entries(HistoryQuery query) {
        return reading().entries(query, name -> true, entry -> true);
    }

    @Override
    public List<TrailEntry> entries(HistoryQuery query, Predicate<String> mayTell, Predicate<TrailEntry> mayKnow) {
        return reading().entries(query, mayTell, mayKnow);
    }

    @Override
    public void forEach(HistoryQuery query, Consumer<TrailEntry> each) {
        reading().each(query, each);
    }

    @Override
    public Verification verify(Optional<Verification.Head> kept) {
        return reading().verify(kept);
    }

    private TrailReading reading() {
        return new TrailReading(rules.catalog(), new SqlTrailAccess(rules.catalog(), tables(), transactions));
    }

    @Override
    public UUID hold(String table, String criteria, By by) {
        HistoryRequests.requireReasonToHold(by);
        UUID id = RunNumber.newId();
        return writing("hold records", id, connection -> {
            tables().beginWriting(connection);
            return new HoldPlacement(planner, dialect, clock, tables()).hold(connection, table, criteria, by, id);
        });
    }

    @Override
    public UUID standingHold(String table, String criteria, By by) {
        Table held = rules.catalog().table(table);
        HistoryRequests.requireReasonToHold(by);
        String text = Criteria.parse(criteria).toString();
        Resolution.of(Criteria.parse(criteria), held, rules.catalog(), clock);
        return append(RunKind.STANDING_HOLD, by, held.name(), text, Optional.empty());
    }

    @Override
    public void lift(UUID hold, By by) {
        TrailRun made = HistoryRequests.held(holds(), hold);
        append(RunKind.LIFT, by, made.table(), made.selection(), Optional.of(hold));
    }

    private UUID append(RunKind kind, By by, String table, String selection, Optional<UUID> about) {
        UUID id = RunNumber.newId();
        writing("write into the audit trail", id, connection -> {
            tables().beginWriting(connection);
            return new Chain(tables())
                    .append(
                            connection,
                            new TrailChangeFacts(rules, clock)
                                    .of(id, kind, by, Optional.empty(), table, selection, Map.of(), about));
        });
        return id;
    }

    @Override
    public List<TrailRun> holds() {
        return transactions.reading(connection ->
                tables().holds(connection).stream().map(PublicForm::run).toList());
    }

    @Override
    public String keyText(String table, KeyGiven key) {
        Table asked = rules.catalog().table(table);
        return transactions.reading(
                connection -> Erasure.keyText(dialect, connection, asked, GivenKeys.resolve(key, asked)));
    }

    @Override
    public ErasurePlan planErasure(String table, String key, By by) {
        return forgetting().planErasure(rules.catalog().table(table), key, by);
    }

    @Override
    public long erase(Approval approval) {
        return erase(approval, RunParticipant.NOBODY);
    }

    /**
     * Erases as was agreed to, with somebody who writes in the same transaction.
     *
     * @param approval what was agreed to
     * @param participant writes before and after
     * @return how many entries have lost their content
     */
    public long erase(Approval approval, RunParticipant participant) {
        return forgetting().erase(approval, participant);
    }

    @Override
    public long erase(String table, String key, By by) {
        return forgetting().erase(rules.catalog().table(table), key, by);
    }

    @Override
    public MaskingPlan planMasking(String text, By by) {
        return forgetting().planMasking(new SoughtText(text), by);
    }

    @Override
    public long mask(Approval approval) {
        return mask(approval, RunParticipant.NOBODY);
    }

    /**
     * Masks as was agreed to, with somebody who writes in the same transaction.
     *
     * @param approval what was agreed to
     * @param participant writes before and after
     * @return in how many places the text stood
     */
    public long mask(Approval approval, RunParticipant participant) {
        return forgetting().mask(approval, participant);
    }

    @Override
    public long mask(String text, By by) {
        return forgetting().mask(new SoughtText(text), by);
    }

    private ContentRemoval forgetting() {
        return new ContentRemoval(
                transactions,
                gate,
                tables(),
                erasure(),
                new Masking(planner, clock, tables(), elsewhere),
                this::writing);
    }

    private Erasure erasure() {
        return new Erasure(planner, clock, tables(), elsewhere);
    }

    /**
     * Erases what the trail holds of a record in the transaction that deletes it.
     *
     * @param table the record's table
     * @param key its key
     * @param erased is told how many entries have lost their content
     * @return what does that
     */
    public Runner.Erasing erasing(Table table, Key key, LongConsumer erased) {
        return new ErasureWithRow(erasure(), tables(), dialect, table, key, erased);
    }

    @Override
    public long prune(Instant before, By by) {
        if (before.isAfter(clock.instant())) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "The trail can't be aged up to " + before + ", which is still to come.",
                    "Give a moment in the past; what happened since then stays.");
        }
        UUID id = RunNumber.newId();
        return writing("age the audit trail", id, connection -> {
            tables().beginWriting(connection);
            return new Pruning(rules, clock, tables()).removeBefore(connection, before, by, id);
        });
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
        Restores restores = restores();
        PlannedRestore plan = transactions.reading(connection -> restores.plan(connection, run, only, by));
        return new Rehearsal(rules, dialect, transactions, restores).of(plan);
    }

    @Override
    public RestoreOutcome restore(Approval approval) {
        return restore(approval, RunParticipant.NOBODY);
    }

    /**
     * Undoes a run as was agreed to, with somebody who writes in the same transaction.
     *
     * @param approval what was agreed to
     * @param participant writes before and after
     * @return what came back
     */
    public RestoreOutcome restore(Approval approval, RunParticipant participant) {
        RestorePlan plan = HistoryRequests.restore(approval);
        Restores restores = restores();
        UUID id = RunNumber.newId();
        RestoreOutcome outcome = writing("restore run " + plan.undone(), id, participant, connection -> {
            participant.before(connection);
            RestoreOutcome done = restores.restore(connection, approval, id);
            participant.after(connection, id, plan);
            return done;
        });
        restored.accept(outcome);
        return outcome;
    }

    @Override
    public RestoreOutcome restore(Approval approval, long records, Consumer<RestoreOutcome> each) {
        RestorePlan plan = HistoryRequests.restore(approval);
        refuseJoined();
        if (records < 1) {
            throw new InvalidRequestException(
                    FailureCode.USAGE, "A portion of " + records + " records is none.", "Give 1 or more.");
        }
        Restores restores = restores();
        Restores.Agreed agreed = transactions.reading(connection -> restores.pass(connection, approval));
        UUID whole = RunNumber.newId();
        Map<String, Long> counts = new LinkedHashMap<>();
        Map<String, Long> putBack = new LinkedHashMap<>();
        Optional<Restorer.Place> next = Optional.of(Restorer.Place.START);
        RestoreOutcome last = null;
        while (next.isPresent()) {
            Restorer.Place from = next.get();
            UUID id = RunNumber.newId();
            Restores.Portion portion = writing(
                    "restore a portion of run " + plan.undone(),
                    id,
                    connection -> restores.portion(connection, agreed, id, Optional.of(whole), from, records));
            last = portion.outcome();
            last.counts().forEach((table, count) -> counts.merge(table, count, Long::sum));
            last.putBack().forEach((link, count) -> putBack.merge(link, count, Long::sum));
            restored.accept(last);
            each.accept(last);
            next = portion.next();
        }
        return new CompletedRestore(whole, plan.undone(), plan.by(), last.at(), counts, putBack);
    }

    private void refuseJoined() {
        if (transactions.isJoined()) {
            throw new InvalidRequestException(
                    FailureCode.FOREIGN_TRANSACTION,
                    "A restore in portions commits each of them, which it can't inside the application's transaction.",
                    "Restore in one piece, or outside of it.");
        }
    }

    @Override
    public Selection undoing(UUID restore) {
        TrailTables trail = tables();
        return transactions.reading(connection -> new RestoredRecords(
                        rules, store(trail, connection), (table, entries) -> keys(table, entries, connection))
                .by(restore));
    }

    private Restores restores() {
        return new Restores(planner, dialect, clock, tables(), gate, followers);
    }

    @Override
    public List<DeletedRecord> deleted(HistoryQuery query) {
        return deleted(query, Optional.empty());
    }

    @Override
    public List<DeletedRecord> deleted(HistoryQuery query, Optional<Predicate<RecordContent>> mayKnow) {
        Most.require(query.most());
        return transactions.reading(connection -> new DeletedRecords(
                        rules,
                        clock,
                        planner.on(connection),
                        kept.map(trail -> store(trail, connection)),
                        (table, key) -> spelled(table, key, connection))
                .of(query, mayKnow));
    }

    private TrailStore store(TrailTables trail, Connection connection) {
        return new SqlTrailStore(new EntryReader(trail), new ReadableImage(rules.catalog()), connection);
    }

    /** The keys of those that are there. */
    private List<Key> keys(Table table, List<StoredEntry> entries, Connection connection) {
        List<List<Object>> images = new ArrayList<>();
        for (StoredEntry entry : entries) {
            Map<String, Object> image = entry.image().orElse(Map.of());
            List<Object> key = new ArrayList<>();
            table.identity().forEach(column -> key.add(image.get(column.name())));
            if (!key.contains(null)) {
                images.add(key);
            }
        }
        return images.isEmpty()
                ? List.of()
                : planner.on(connection)
                        .reader()
                        .keys(table, new Condition.Pictured(table.identity(), images), Integer.MAX_VALUE, false);
    }

    private Optional<String> spelled(Table table, Key key, Connection connection) {
        Condition itself = new Condition.Among(key.columns(), List.of(key.values()));
        try {
            return new CurrentRows(dialect, connection)
                    .keys(table, itself).stream().map(TrailKey::of).findFirst();
        } catch (SQLException failure) {
            throw new DatabaseException("read a key", "Nothing was changed.", failure);
        }
    }
}
