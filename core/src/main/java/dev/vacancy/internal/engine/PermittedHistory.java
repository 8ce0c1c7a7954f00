package dev.vacancy.internal.engine;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Permissions.Action;
import dev.vacancy.Proposal;
import dev.vacancy.Selection;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.history.DeletedRecord;
import dev.vacancy.history.ErasurePlan;
import dev.vacancy.history.History;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.MaskingPlan;
import dev.vacancy.history.RestoreOutcome;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.history.TrailRun;
import dev.vacancy.history.Verification;
import dev.vacancy.internal.restoring.SeenHistory;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;

/** The audit trail as far as somebody may see and change it. */
final class PermittedHistory implements History {
    private final SeenHistory history;
    private final ActingUser acting;
    private final UnaryOperator<String> nameOf;

    /**
     * Guards a history.
     *
     * @param nameOf the name of a table as the catalog has it
     */
    PermittedHistory(SeenHistory history, ActingUser acting, UnaryOperator<String> nameOf) {
        this.history = history;
        this.acting = acting;
        this.nameOf = nameOf;
    }

    /** Who asks for a certain table is told that they may not; of all tables they are told what they may. */
    private void require(HistoryQuery query) {
        query.table().ifPresent(table -> acting.require(Action.HISTORY, nameOf.apply(table)));
    }

    @Override
    public List<TrailRun> runs(HistoryQuery query) {
        require(query);
        return history.runs(query, table -> acting.may(Action.HISTORY, table)).stream()
                .map(this::seen)
                .toList();
    }

    @Override
    public List<TrailEntry> entries(HistoryQuery query) {
        require(query);
        return history.entries(query, table -> acting.may(Action.HISTORY, table), acting::mayKnow).stream()
                .map(acting.sight()::seen)
                .toList();
    }

    @Override
    public void forEach(HistoryQuery query, Consumer<TrailEntry> each) {
        require(query);
        history.forEach(query, entry -> {
            if (acting.may(Action.HISTORY, entry.table()) && acting.mayKnow(entry)) {
                each.accept(acting.sight().seen(entry));
            }
        });
    }

    @Override
    public Verification verify(Optional<Verification.Head> kept) {
        return history.verify(kept);
    }

    @Override
    public UUID hold(String table, String criteria, By by) {
        acting.require(by);
        acting.require(Action.KEEP, nameOf.apply(table));
        return history.hold(table, criteria, by);
    }

    @Override
    public UUID standingHold(String table, String criteria, By by) {
        acting.require(by);
        acting.require(Action.KEEP, nameOf.apply(table));
        return history.standingHold(table, criteria, by);
    }

    @Override
    public void lift(UUID hold, By by) {
        acting.require(by);
        history.holds().stream()
                .filter(run -> run.runId().equals(hold))
                .forEach(run -> acting.require(Action.KEEP, run.table()));
        history.lift(hold, by);
    }

    @Override
    public List<TrailRun> holds() {
        return history.holds().stream()
                .filter(run -> acting.may(Action.HISTORY, run.table()))
                .map(this::seen)
                .toList();
    }

    private TrailRun seen(TrailRun run) {
        return new TrailRun(
                run.place(),
                run.runId(),
                run.kind(),
                run.by(),
                run.colleague(),
                run.at(),
                run.table(),
                acting.sight().seen(run.selection(), run.table(), run.by()),
                run.counts(),
                run.partOf(),
                run.about(),
                run.entries(),
                run.digest());
    }

    @Override
    public String keyText(String table, KeyGiven key) {
        acting.require(Action.HISTORY, nameOf.apply(table));
        return history.keyText(table, key);
    }

    @Override
    public ErasurePlan planErasure(String table, String key, By by) {
        acting.require(by);
        requireErasure(table, key);
        ErasurePlan plan = history.planErasure(table, key, by);
        plan.counts().keySet().forEach(each -> acting.require(Action.DELETE_HARD, each));
        return plan;
    }

    private void requireErasure(String table, String key) {
        acting.require(Action.DELETE_HARD, nameOf.apply(table));
        require(Action.DELETE_HARD, HistoryQuery.all().ofRecord(table, key), entry -> true);
    }

    /** What the trail has of records says whose they are. */
    private void require(Action act, HistoryQuery query, Predicate<TrailEntry> meant) {
        if (acting.permissions().isOfRecords()) {
            history.forEach(query, entry -> {
                if (meant.test(entry)) {
                    acting.require(act, entry);
                }
            });
        }
    }

    @Override
    public long erase(Approval approval) {
        requireRecords(approval.plan());
        return history.erase(approval);
    }

    /** Refuses a plan of somebody's who was allowed more. */
    void requireRecords(Proposal plan) {
        if (plan instanceof ErasurePlan erasure) {
            requireErasure(erasure.table(), erasure.key());
            erasure.counts().keySet().forEach(each -> acting.require(Action.DELETE_HARD, each));
        } else if (plan instanceof MaskingPlan masking) {
            requireMasking(masking);
        } else if (plan instanceof RestorePlan restore) {
            requireRestore(restore);
        }
    }

    @Override
    public long erase(String table, String key, By by) {
        acting.require(by);
        planErasure(table, key, by);
        return history.erase(table, key, by);
    }

    @Override
    public MaskingPlan planMasking(String text, By by) {
        acting.require(by);
        acting.require(Action.KEEP, "");
        MaskingPlan plan = history.planMasking(text, by);
        requireMasking(plan);
        return plan;
    }

    /** Whoever masks a text is told where it stands, and takes it away from everybody. */
    private void requireMasking(MaskingPlan plan) {
        acting.require(Action.KEEP, "");
        plan.counts().keySet().stream().filter(table -> !table.isEmpty()).forEach(table -> {
            acting.require(Action.HISTORY, table);
            acting.require(Action.DELETE_HARD, table);
        });
        plan.mentions().forEach(mention -> mention.key().ifPresent(key -> requireErasure(mention.table(), key)));
    }

    @Override
    public long mask(Approval approval) {
        requireRecords(approval.plan());
        return history.mask(approval);
    }

    @Override
    public long mask(String text, By by) {
        planMasking(text, by);
        return history.mask(text, by);
    }

    @Override
    public long prune(Instant before, By by) {
        acting.require(by);
        acting.require(Action.KEEP, "");
        return history.prune(before, by);
    }

    @Override
    public RestorePlan planRestore(UUID run, By by) {
        return permitted(history.planRestore(run, by));
    }

    @Override
    public RestorePlan planRestore(UUID run, String table, String key, By by) {
        return permitted(history.planRestore(run, table, key, by));
    }

    private RestorePlan permitted(RestorePlan plan) {
        acting.require(plan.by());
        requireRestore(plan);
        return plan;
    }

    /** The records that the run had selected are looked at, or the one that comes back; what went along comes back along. */
    private void requireRestore(RestorePlan plan) {
        String table = plan.run().table();
        acting.require(Action.RESTORE, table);
        require(
                Action.RESTORE,
                HistoryQuery.all().ofRun(plan.undone()),
                entry -> plan.only()
                        .map(only -> only.equals(entry.table() + " " + entry.key()))
                        .orElseGet(() -> entry.table().equals(table)));
    }

    @Override
    public RestoreOutcome restore(Approval approval) {
        requireRecords(approval.plan());
        return history.restore(approval);
    }

    @Override
    public RestoreOutcome restore(Approval approval, long records, Consumer<RestoreOutcome> each) {
        requireRecords(approval.plan());
        return history.restore(approval, records, each);
    }

    @Override
    public Selection undoing(UUID restore) {
        Selection selection = history.undoing(restore);
        acting.require(Action.RESTORE, nameOf.apply(selection.table()));
        return selection;
    }

    @Override
    public List<DeletedRecord> deleted(HistoryQuery query) {
        require(query);
        Optional<Predicate<RecordContent>> mayKnow = acting.permissions().isOfRecords()
                ? Optional.of(record -> acting.may(Action.HISTORY, record))
                : Optional.empty();
        return history.deleted(query, mayKnow).stream()
                .map(deleted -> new DeletedRecord(
                        acting.sight().seen(deleted.record()),
                        deleted.run(),
                        deleted.by(),
                        deleted.at(),
                        deleted.daysLeft()))
                .toList();
    }
}
