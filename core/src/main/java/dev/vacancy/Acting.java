package dev.vacancy;

import dev.vacancy.Permissions.Act;
import dev.vacancy.audit.ErasurePlan;
import dev.vacancy.audit.RestorePlan;
import dev.vacancy.catalog.RecordContent;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.internal.condition.SelectedRecords;
import dev.vacancy.internal.gate.Permit;
import dev.vacancy.internal.planning.PlannedDeletion;
import dev.vacancy.internal.running.RunOutcome;
import dev.vacancy.plan.Blocker;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Effect;
import dev.vacancy.plan.EmptyingPlan;
import dev.vacancy.plan.Plan;
import dev.vacancy.plan.Proposal;
import dev.vacancy.plan.Skipped;
import dev.vacancy.run.Outcome;
import java.util.List;
import java.util.Locale;

/** Somebody who may do some things and not others. */
record Acting(By by, Permissions permissions) implements Permit {
    boolean may(Act act, String table) {
        return permissions.may(by, act, table);
    }

    void require(Act act, String table) {
        if (!may(act, table)) {
            throw new InvalidRequestException(
                            FailureCode.FORBIDDEN,
                            by.actor() + " may not do that with "
                                    + (table.isEmpty() ? "the audit trail" : "records of " + table) + ".",
                            "Ask somebody who may.")
                    .about("act", act.name().toLowerCase(Locale.ROOT));
        }
    }

    /** Nobody acts in the name of another. */
    void require(By other) {
        if (other == null || !other.actor().equals(by.actor()) || other.isProgram() != by.isProgram()) {
            throw new InvalidRequestException(
                    FailureCode.FORBIDDEN,
                    by.actor() + " may not act in the name of " + (other == null ? "nobody" : other.actor()) + ".",
                    "Plan and run for " + by.actor() + ".");
        }
    }

    /** What is planned under lock is asked about once more, whatever was planned before. */
    @Override
    public void require(Proposal plan) {
        require(plan.by());
        if (plan instanceof Plan deletion) {
            requireDeletion(deletion);
        } else if (plan instanceof EmptyingPlan emptying) {
            require(Act.DELETE_ALL, emptying.table().name());
        } else if (plan instanceof RestorePlan restore) {
            require(Act.RESTORE, restore.run().table());
        } else if (plan instanceof ErasurePlan erasure) {
            require(Act.DELETE_FOR_GOOD, erasure.table());
        }
    }

    /** Whether a record is picked tells what its parents hold. */
    void requireSight(SelectedRecords selected) {
        selected.picked().condition().parentsAsked().forEach(parent -> require(Act.SEE, parent.name()));
    }

    void requireDeletion(Plan plan) {
        require(plan.by());
        String table = plan.table().name();
        require(Act.DELETE, table);
        if (plan.selection().isForGood()) {
            require(Act.DELETE_FOR_GOOD, table);
        }
        if (plan.selection().isOfAllRecords() || plan.isOfWholeTable()) {
            require(Act.DELETE_ALL, table);
        } else if (plan.selection().criteria().isPresent() || plan.selected() > 1) {
            require(Act.DELETE_SEVERAL, table);
        }
    }

    /** The plan as far as it may be seen: what may not is counted only. */
    Plan seen(Plan plan) {
        return ((PlannedDeletion) plan)
                .showing(
                        plan.roots().stream().map(this::seen).toList(),
                        plan.effects().stream().map(this::seen).toList(),
                        seen(plan.blockers()),
                        plan.skipped().stream()
                                .map(skipped -> new Skipped(seen(skipped.root()), seen(skipped.blockers())))
                                .toList());
    }

    /** What happened, as far as it may be seen. */
    Outcome seen(Outcome outcome) {
        return ((RunOutcome) outcome)
                .showing(
                        outcome.deleted().stream().map(this::seen).toList(),
                        outcome.skipped().stream()
                                .map(skipped -> new Skipped(seen(skipped.root()), seen(skipped.blockers())))
                                .toList());
    }

    private RecordContent seen(RecordContent record) {
        return may(Act.SEE, record.table().name()) ? record : record.keyOnly();
    }

    private Effect seen(Effect effect) {
        return may(Act.SEE, effect.link().child().name())
                ? effect
                : new Effect(effect.link(), effect.rule(), effect.newParent(), effect.count(), List.of());
    }

    private List<Blocker> seen(List<Blocker> blockers) {
        return blockers.stream()
                .map(blocker -> may(Act.SEE, blocker.link().child().name())
                        ? blocker
                        : new Blocker(blocker.link(), blocker.reason(), blocker.count(), List.of()))
                .toList();
    }
}
