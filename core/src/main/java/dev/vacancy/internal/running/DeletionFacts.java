package dev.vacancy.internal.running;

import dev.vacancy.Selection;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.PlannedDeletion;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.TrailTables;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;

/** What the trail says of a deletion. */
final class DeletionFacts {
    private DeletionFacts() {}

    /**
     * Says it.
     *
     * @param run the run's id
     * @param passage who agreed
     * @param plan what was done
     * @param partOf the bulk run that it belongs to
     * @param rules the rules
     * @param moment when it was done
     */
    static RunFacts of(
            UUID run, Passage passage, PlannedDeletion plan, Optional<UUID> partOf, Rules rules, Instant moment) {
        return new RunFacts(
                run,
                plan.selection().isPurge() ? RunKind.PURGE : RunKind.DELETION,
                passage.by().actor(),
                passage.colleague(),
                passage.by().reason(),
                TrailTables.text(moment),
                plan.table().name(),
                partOf.isPresent() || !plan.skipped().isEmpty()
                        ? gone(plan)
                        : plan.selection().words(),
                rules.digest(),
                plan.counts(),
                partOf,
                Optional.empty());
    }

    /** What went and not what was to go: the rest of a chunk is told by its bulk run, what was blocked by the outcome. */
    private static String gone(PlannedDeletion plan) {
        if (plan.roots().size() < plan.selected()) {
            return plan.selection().words();
        }
        return Selection.of(plan.table().name())
                .keys(plan.roots().stream().map(root -> root.key().values()).toList())
                .words();
    }
}
