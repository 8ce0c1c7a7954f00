package dev.vacancy.internal.running;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.Mode;
import dev.vacancy.Reporting;
import dev.vacancy.Selection;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.PlannedDeletion;
import dev.vacancy.internal.planning.Planning;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.RecordReader;
import dev.vacancy.internal.trail.RunNumber;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/**
 * Carries out what was approved in a database that isn't relational: plans again, compares, and has the database change records only as far as
 * they are as planned.
 *
 * @since 0.1
 */
public final class StoreRunner {
    private final RecordDatabase database;
    private final Rules rules;
    private final Clock clock;
    private final Gate gate;

    /**
     * Makes a runner.
     *
     * @param database where records are changed
     * @param rules say how they are marked
     * @param clock tells when a run began and how long it took
     * @param gate lets through what was agreed to
     */
    public StoreRunner(RecordDatabase database, Rules rules, Clock clock, Gate gate) {
        this.database = database;
        this.rules = rules;
        this.clock = clock;
        this.gate = gate;
    }

    /**
     * Runs an approved plan, all or nothing.
     *
     * @param planning plans it again
     * @param approval what was agreed to
     * @param reporting what to tell besides
     * @return what happened
     * @throws dev.vacancy.StalePlanException when the plan would be another one now
     */
    public CompletedRun run(Planning planning, Approval approval, Reporting reporting) {
        PlannedDeletion agreed = (PlannedDeletion) approval.plan();
        Planned now = database.reading(() -> planning.lock(agreed, Optional.empty()));
        Passage passage = gate.pass(approval, Mode.AT_ONCE, now.plan(), () -> Difference.between(agreed, now.plan()));
        return carryOut(planning, passage, now, reporting).leavingOut(agreed.skipped());
    }

    /**
     * Deletes what a program has decided to.
     *
     * @param planning plans it
     * @param selection what to delete
     * @param by who wants it, and why
     * @param reporting what to tell besides
     * @return what happened
     */
    public CompletedRun delete(Planning planning, Selection selection, By by, Reporting reporting) {
        Planned now = database.reading(() -> planning.lock(selection, by, Optional.empty()));
        return carryOut(planning, gate.passUnasked(now.plan()), now, reporting);
    }

    /** Whoever holds records meanwhile comes before a run that hasn't changed any. */
    private static boolean isSame(PlannedDeletion agreed, PlannedDeletion now) {
        return now.fingerprint().equals(agreed.fingerprint()) && !now.isBlocked();
    }

    private CompletedRun carryOut(Planning planning, Passage passage, Planned planned, Reporting reporting) {
        Instant start = clock.instant();
        UUID run = RunNumber.newId();
        PlannedDeletion plan = planned.plan();
        RecordReader reader = planning.reader();
        if (reporting.records().isPresent()) {
            throw NotOffered.of("To hand out each record before it goes, with the connection of the run,");
        }
        ReportedKeys keys = database.reading(() -> ReportedKeys.of(planned, reporting, rules.catalog(), reader));
        Map<String, Long> counts = planned.steps().isEmpty()
                ? Map.of()
                : database.carryOut(
                        run,
                        passage,
                        planned,
                        new AssignedValues(rules, plan.by(), start.atZone(clock.getZone())),
                        rules.recording()
                                .map(recording -> new Recorded(
                                        recording,
                                        DeletionFacts.of(run, passage, plan, Optional.empty(), rules, start))),
                        () -> isSame(plan, planning.lock(plan, Optional.empty()).plan()));
        return new CompletedRun(
                run,
                plan.table().name(),
                plan.by(),
                start,
                Duration.between(start, clock.instant()),
                counts,
                plan.marked(),
                plan.changes(),
                plan.roots(),
                plan.selected(),
                plan.notFound(),
                plan.skipped(),
                keys.gone(),
                keys.changed(),
                plan.fingerprint());
    }
}
