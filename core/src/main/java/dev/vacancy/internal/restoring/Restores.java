package dev.vacancy.internal.restoring;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Mode;
import dev.vacancy.catalog.Table;
import dev.vacancy.history.Conflict;
import dev.vacancy.history.RestoreOutcome;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.internal.catalog.DatabaseCatalog;
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
import dev.vacancy.internal.trail.Recorder;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.rule.ConsentRule;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Instant;
import java.util.Comparator;
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
    PlannedRestore plan(Connection connection, UUID run, Optional<Only> only, By by) throws SQLException {
        Undone undone = undone(connection, run, only);
        Restorer restorer = restorer(connection, undone);
        restorer.look(new Looking());
        return plan(connection, undone, by, restorer);
    }

    /** What writes only to take it back. */
    Restoration tried(Connection connection) {
        return Restoration.tried(rules, dialect, planner.limits().lockWait(), connection);
    }

    /**
     * Goes through what a plan would bring back.
     *
     * @param work what is done with it
     * @param most about how many records it gets
     * @return whether those were all
     */
    boolean look(Connection connection, PlannedRestore plan, Restorer.Work work, long most) throws SQLException {
        Undone undone = undone(connection, plan.undone(), Only.of(plan, rules.catalog()));
        return restorer(connection, undone)
                .look(work, Restorer.Place.START, most)
                .isEmpty();
    }

    /** Looks and does nothing. */
    private static final class Looking implements Restorer.Work {
        @Override
        public void begin(List<String> tables) {
            // There is nothing to prepare.
        }

        @Override
        public void expect(List<Conflict> conflicts) {
            // The restorer notes them.
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

    /** One record, with what went with it. */
    record Only(String table, String key) {
        static Optional<Only> of(RestorePlan plan, DatabaseCatalog catalog) {
            return plan.only().map(record -> of(record, catalog));
        }

        /** Reads what {@link #toString} gives; a table's name may hold blanks. */
        static Only of(String record, DatabaseCatalog catalog) {
            String table = catalog.tables().stream()
                    .map(Table::name)
                    .filter(name -> record.startsWith(name + " "))
                    .max(Comparator.comparing(String::length))
                    .orElseGet(() -> record.substring(0, record.indexOf(' ')));
            return new Only(table, record.substring(table.length() + 1));
        }

        @Override
        public String toString() {
            return table + " " + key;
        }
    }

    private Restorer restorer(Connection connection, Undone undone) throws SQLException {
        Optional<RecordOfRun> chosen = Optional.empty();
        if (undone.only().isPresent()) {
            Only only = undone.only().get();
            chosen = RecordOfRun.of(
                    rules.catalog(), new EntryReader(tables), connection, undone.runs(), only.table(), only.key());
            if (chosen.isEmpty()) {
                throw new InvalidRequestException(
                        FailureCode.UNKNOWN_RUN,
                        "Run " + undone.recorded().facts().runId() + " knows nothing of " + only + ".",
                        "Ask the history what it did.");
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
                        RestoredEntries.by(new EntryReader(tables), connection, undone.parts()))
                .asking(followers);
    }

    private PlannedRestore plan(Connection connection, Undone undone, By by, Restorer restorer) {
        Optional<String> only = undone.only().map(Only::toString);
        Scope scope = planner.on(connection).scope(RequestDigest.ofRestore(undone.id(), only));
        String fingerprint = Chain.digest(scope + "\n" + undone.runs() + " " + undone.only() + "\n" + restorer.counts()
                + "\n" + restorer.linksPutBack() + "\n" + restorer.conflicts());
        boolean colleague = restorer.counts().keySet().stream()
                .anyMatch(table -> rules.consent(rules.catalog().table(table))
                        .filter(ConsentRule::colleague)
                        .isPresent());
        return new PlannedRestore(
                PublicForm.run(undone.recorded()),
                undone.id(),
                only,
                by,
                clock.instant(),
                restorer.counts(),
                restorer.linksPutBack(),
                restorer.left(),
                restorer.conflicts(),
                fingerprint,
                colleague,
                scope);
    }

    /** What is undone: a run, or all runs of a bulk run, the last one first; and the restores of parts of it before. */
    private record Undone(UUID id, StoredRun recorded, List<UUID> runs, Optional<Only> only, List<UUID> parts) {}

    private Undone undone(Connection connection, UUID run, Optional<Only> only) throws SQLException {
        List<StoredRun> found = tables.runs(
                connection, "run_id = ? or part_of = ? order by place desc", run.toString(), run.toString());
        if (found.isEmpty()) {
            throw unknown(run);
        }
        StoredRun last = found.get(0);
        RunKind kind = last.facts().kind();
        if (!kind.removes()) {
            throw Restorer.refusal(
                    "Run " + run + " is no deletion but " + article(kind) + ".",
                    kind.restores()
                            ? "To undo it, plan a deletion of what it brought back: History.undoing selects that."
                            : "It can't be undone.");
        }
        List<StoredRun> restores = tables.runs(connection, "kind = 'restore' and about = ?", run.toString());
        if (!restores.isEmpty()) {
            RunFacts restore = restores.get(0).facts();
            throw Restorer.refusal(
                    "Run " + run + " was undone by " + restore.actor() + " at " + restore.at() + ", with run "
                            + restore.partOf().orElse(restore.runId()) + ".",
                    "If its records are gone again, restore the run that removed them.");
        }
        List<StoredRun> parts =
                tables.runs(connection, "kind in ('part restore', 'restoring') and about = ?", run.toString());
        return new Undone(run, last, ids(found), only, ids(parts));
    }

    static InvalidRequestException unknown(UUID run) {
        return new InvalidRequestException(
                        FailureCode.UNKNOWN_RUN,
                        "The audit trail has no run " + run + ".",
                        "Ask the history which there are.")
                .about("run", run);
    }

    static String article(RunKind kind) {
        return (List.of('a', 'e', 'u').contains(kind.word().charAt(0)) ? "an " : "a ") + kind.word();
    }

    private static List<UUID> ids(List<StoredRun> runs) {
        return runs.stream().map(run -> run.facts().runId()).toList();
    }

    /** Undoes a run as was agreed to. */
    RestoreOutcome restore(Connection connection, Approval approval, UUID id) throws SQLException {
        tables.beginWriting(connection);
        new Chain(tables).lock(connection);
        Agreed agreed = pass(connection, approval);
        return portion(connection, agreed, id, Optional.empty(), Restorer.Place.START, Long.MAX_VALUE)
                .outcome();
    }

    /** A restore that has come through the gate. */
    record Agreed(PlannedRestore plan, Passage passage) {}

    /** Sees to it, before anything is changed, that a plan is still the one that was agreed to, and may be carried out. */
    Agreed pass(Connection connection, Approval approval) throws SQLException {
        RestorePlan agreed = (RestorePlan) approval.plan();
        Undone undone = undone(connection, agreed.undone(), Only.of(agreed, rules.catalog()));
        Restorer looking = restorer(connection, undone);
        looking.look(new Looking());
        PlannedRestore now = plan(connection, undone, agreed.by(), looking);
        Passage passage = gate.pass(
                approval,
                Mode.AT_ONCE,
                now,
                () -> List.of("something else now stands where the records of run " + agreed.undone()
                        + " stood, or less of them can come back"));
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
        Restorer restorer = restorer(connection, undone(connection, undoing, Only.of(plan, rules.catalog())));
        Restoration restoration = new Restoration(
                agreed,
                rules,
                dialect,
                planner.limits().lockWait(),
                connection,
                new Recorder(rules.recording().orElseThrow(), dialect),
                own);
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
