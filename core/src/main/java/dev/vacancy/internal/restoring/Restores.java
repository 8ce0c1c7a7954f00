package dev.vacancy.internal.restoring;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Mode;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.Conflict;
import dev.vacancy.history.RestoreOutcome;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.follow.FollowUpHandlers;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.planning.RequestDigest;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.ReadableImage;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.SqlTrailStore;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.Stretch;
import dev.vacancy.internal.trail.TrailStore;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.UUID;

/** Undoes runs: looks what can come back and what stands in the way, and brings it back. */
final class Restores {
    private final Rules rules;
    private final Dialect dialect;
    private final Clock clock;
    private final TrailTables tables;
    private final Planner planner;
    private final Gate gate;
    private final FollowUpHandlers followers;

    Restores(Planner planner, Dialect dialect, Clock clock, TrailTables tables, Gate gate, FollowUpHandlers followers) {
        this.followers = followers;
        this.planner = planner;
        this.gate = gate;
        this.rules = planner.rules();
        this.dialect = dialect;
        this.clock = clock;
        this.tables = tables;
    }

    /** Works out what undoing a run would do. */
    PlannedRestore plan(Connection connection, UUID run, Optional<RecordInTrail> only, By by) throws SQLException {
        UndoneRuns undone = undone(connection, run, only);
        Restorer restorer = restorer(connection, undone);
        restorer.look(new Looking());
        return plan(connection, undone, by, restorer);
    }

    /** What writes only to take it back. */
    Restoration tried(Connection connection) {
        return Restoration.tried(rules, dialect, planner.limits().lockWait(), connection, new EntryReader(tables));
    }

    /**
     * Goes through what a plan would bring back.
     *
     * @param work what is done with it
     * @param most about how many records it gets
     * @return whether those were all
     */
    boolean look(Connection connection, PlannedRestore plan, Restorer.Work work, long most) throws SQLException {
        UndoneRuns undone = undone(connection, plan.undone(), RecordInTrail.of(plan, rules.catalog()));
        return restorer(connection, undone)
                .look(work, Restorer.Place.START, most)
                .isEmpty();
    }

    /** Looks and does nothing. */
    private static class Looking implements Restorer.Work {
        @Override
        public void begin(List<String> tables) {
            // There is nothing to prepare.
        }

        @Override
        public void expect(List<Conflict> conflicts) {
            // The restorer notes them.
        }

        @Override
        public boolean insert(Table table, Stretch stretch) {
            return false;
        }

        @Override
        public void insert(Table table, List<RestorableRow> rows) {
            // The restorer counts.
        }

        @Override
        public void put(Table table, List<RestorableRow> rows) {
            // The restorer counts.
        }

        @Override
        public void reopen(Table table, LatestRow latest, List<RestorableRow> rows) {
            // The restorer counts.
        }
    }

    /** Only counts what is about to be brought back in the same transaction, where all else about it is found out. */
    private static final class Counting extends Looking {
        @Override
        public boolean insert(Table table, Stretch stretch) {
            return true;
        }
    }

    private Restorer restorer(Connection connection, UndoneRuns undone) throws SQLException {
        Optional<RecordOfRun> chosen = Optional.empty();
        if (undone.only().isPresent()) {
            RecordInTrail only = undone.only().get();
            chosen = RecordOfRun.of(
                    rules.catalog(), new EntryReader(tables), connection, undone.runs(), only.table(), only.key());
            if (chosen.isEmpty()) {
                throw undone.withoutRecord();
            }
        }
        return new Restorer(
                        rules,
                        dialect,
                        clock,
                        new EntryReader(tables),
                        connection,
                        undone.runs(),
                        chosen,
                        RestoredEntries.by(store(connection), undone.parts()))
                .asking(followers);
    }

    private PlannedRestore plan(Connection connection, UndoneRuns undone, By by, Restorer restorer) {
        Optional<String> only = undone.only().map(RecordInTrail::toString);
        Scope scope = planner.on(connection).scope(RequestDigest.ofRestore(undone.id(), only));
        Restorable found =
                new Restorable(restorer.counts(), restorer.linksPutBack(), restorer.left(), restorer.conflicts());
        return PlannedRestore.of(undone, found, scope, by, clock.instant(), rules);
    }

    private UndoneRuns undone(Connection connection, UUID run, Optional<RecordInTrail> only) {
        return UndoneRuns.of(store(connection), run, only);
    }

    private TrailStore store(Connection connection) {
        return new SqlTrailStore(new EntryReader(tables), new ReadableImage(rules.catalog()), connection);
    }

    /** Undoes a run as was agreed to. */
    RestoreOutcome restore(Connection connection, Approval approval, UUID id) throws SQLException {
        tables.beginWriting(connection);
        new Chain(tables).lock(connection);
        Agreed agreed = pass(connection, approval, new Counting());
        return portion(connection, agreed, id, Optional.empty(), Restorer.Place.START, Long.MAX_VALUE)
                .outcome();
    }

    /** A restore that has come through the gate. */
    record Agreed(PlannedRestore plan, Passage passage) {}

    /** Sees to it, before anything is changed, that a plan is still the one that was agreed to, and may be carried out. */
    Agreed pass(Connection connection, Approval approval) throws SQLException {
        return pass(connection, approval, new Looking());
    }

    private Agreed pass(Connection connection, Approval approval, Restorer.Work look) throws SQLException {
        RestorePlan agreed = (RestorePlan) approval.plan();
        UndoneRuns undone = undone(connection, agreed.undone(), RecordInTrail.of(agreed, rules.catalog()));
        Restorer looking = restorer(connection, undone);
        looking.look(look);
        PlannedRestore now = plan(connection, undone, agreed.by(), looking);
        Passage passage = gate.pass(approval, Mode.AT_ONCE, now, () -> HistoryRequests.staleRestore(agreed.undone()));
        return new Agreed(now, passage);
    }

    /**
     * What came back in one transaction.
     *
     * @param outcome what it was
     * @param next where the next one begins; empty if that was all
     */
    record Portion(RestoreOutcome outcome, Optional<Restorer.Place> next) {}

    /** The words of a selection may tell of a person; an erasure finds them by the record, which is in one portion only. */
    private static String words(RestorePlan plan, Optional<UUID> whole) {
        return whole.isPresent()
                ? "what run " + plan.undone() + " took"
                : plan.run().selection();
    }

    private static RunKind kind(RestorePlan plan, Optional<Restorer.Place> next) {
        if (next.isPresent()) {
            return RunKind.RESTORING;
        }
        return plan.only().isPresent() ? RunKind.PART_RESTORE : RunKind.RESTORE;
    }

    /**
     * Undoes a portion of a run.
     *
     * @param own its own id
     * @param whole the id of the restore that this is a portion of; empty if it is all of it
     * @param from where the portion before has ended
     * @param most about how many records it has at most
     */
    Portion portion(
            Connection connection, Agreed agreed, UUID own, Optional<UUID> whole, Restorer.Place from, long most)
            throws SQLException {
        PlannedRestore plan = agreed.plan();
        tables.beginWriting(connection);
        new Chain(tables).lock(connection);
        UUID undoing = plan.undone();
        Restorer restorer = restorer(connection, undone(connection, undoing, RecordInTrail.of(plan, rules.catalog())))
                .lockingParents(query -> dialect.governed(
                        dialect.locking(query), planner.limits().lockWait()));
        Restoration restoration = new Restoration(
                agreed, rules, dialect, planner.limits().lockWait(), connection, new EntryReader(tables), own);
        Optional<Restorer.Place> next = restorer.look(restoration, from, most);
        restoration.expect(restorer.conflicts());
        restoration.end();
        RunFacts facts = new TrailChangeFacts(rules, clock)
                .of(
                        own,
                        kind(plan, next),
                        agreed.passage().by(),
                        agreed.passage().colleague(),
                        plan.run().table(),
                        plan.only().orElseGet(() -> words(plan, whole)),
                        restorer.counts(),
                        Optional.of(undoing));
        StoredRun stored = new Chain(tables).append(connection, facts.partOf(whole));
        RestoreOutcome outcome = new CompletedRestore(
                own,
                undoing,
                plan.by(),
                Instant.parse(stored.facts().at()),
                restorer.counts(),
                restorer.linksPutBack());
        return new Portion(outcome, next);
    }
}
