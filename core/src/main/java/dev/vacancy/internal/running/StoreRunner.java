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
import java.util.function.Consumer;

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
     * @param taken the approval that it redeems; empty if it is none that travelled
     * @return what happened
     * @throws dev.vacancy.StalePlanException when the plan would be another one now
     */
    public CompletedRun run(Planning planning, Approval approval, Reporting reporting, Optional<TakenApproval> taken) {
        PlannedDeletion agreed = (PlannedDeletion) approval.plan();
        Planned now = database.reading(() -> planning.lock(agreed, Optional.empty()));
        Passage passage = gate.pass(approval, Mode.AT_ONCE, now.plan(), () -> Difference.between(agreed, now.plan()));
        return carryOut(planning, passage, now, reporting, taken).leavingOut(agreed.skipped());
    }

    /**
     * Deletes a single record as was agreed to, to be erased.
     *
     * @param planning plans it again
     * @param approval what was agreed to
     * @param taken the approval that it redeems; empty if it is none that travelled
     * @param erasing erases what the trail tells of it, once it is gone
     * @return what happened
     */
    public CompletedRun erase(
            Planning planning, Approval approval, Optional<TakenApproval> taken, Consumer<Passage> erasing) {
        PlannedDeletion agreed = (PlannedDeletion) approval.plan();
        Planned now = database.reading(() -> planning.lock(agreed, Optional.empty()));
        Passage passage = gate.pass(approval, Mode.ERASING, now.plan(), () -> Difference.between(agreed, now.plan()));
        CompletedRun run = carryOut(planning, passage, now, Reporting.none(), taken);
        erasing.accept(passage);
        return run;
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
        return carryOut(planning, gate.passUnasked(now.plan()), now, reporting, Optional.empty());
    }

    /** Whoever holds records meanwhile comes before a run that hasn't changed any. */
    private static boolean isSame(PlannedDeletion agreed, PlannedDeletion now) {
        return now.fingerprint().equals(agreed.fingerprint()) && !now.isBlocked();
    }

    private Optional<Recorded> recorded(UUID run, Passage passage, Planned planned, Optional<UUID> partOf) {
        return rules.recording()
                .filter(recording -> !planned.steps().isEmpty())
                .map(recording -> new Recorded(
                        recording, DeletionFacts.of(run, passage, planned.plan(), partOf, rules, clock.instant())));
    }

    private Map<String, Long> carryOut(Planning planning, Passage passage, Planned planned, Conclusion conclusion) {
        PlannedDeletion plan = planned.plan();
        return database.carryOut(
                conclusion,
                passage,
                planned,
                new AssignedValues(rules, plan.by(), clock.instant().atZone(clock.getZone())),
                store -> isSame(
                        plan, planning.in(store).lock(plan, Optional.empty()).plan()));
    }

    /**
     * Carries out a part of a bulk run, all or nothing, with what is kept of its records.
     *
     * @param planning plans it again
     * @param planned the plan; it may be of nothing
     * @param standing what the bulk run was approved with
     * @param run the id of this part, which has claimed the records
     * @param chunk what becomes of them
     * @throws dev.vacancy.StalePlanException when something has changed since; nothing is left changed
     */
    public void chunk(Planning planning, Planned planned, Gate.Standing standing, UUID run, SettledChunk chunk) {
        Passage passage = gate.passChunk(standing, planned.plan());
        Optional<Recorded> recorded = recorded(run, passage, planned, Optional.of(chunk.bulkRun()));
        carryOut(planning, passage, planned, new Conclusion(run, recorded, Optional.empty(), Optional.of(chunk)));
    }

    private CompletedRun carryOut(
            Planning planning, Passage passage, Planned planned, Reporting reporting, Optional<TakenApproval> taken) {
        Instant start = clock.instant();
        UUID run = taken.map(TakenApproval::run).orElseGet(RunNumber::newId);
        PlannedDeletion plan = planned.plan();
        RecordReader reader = planning.reader();
        if (reporting.records().isPresent()) {
            throw NotOffered.of("To hand out each record before it goes, with the connection of the run,");
        }
        ReportedKeys keys = database.reading(() -> ReportedKeys.of(planned, reporting, rules.catalog(), reader));
        Map<String, Long> counts = planned.steps().isEmpty() && taken.isEmpty()
                ? Map.of()
                : carryOut(
                        planning,
                        passage,
                        planned,
                        new Conclusion(
                                run,
                                recorded(run, passage, planned, Optional.empty()),
                                taken.map(approval -> approval.redeemedBy(plan, clock.instant())),
                                Optional.empty()));
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
