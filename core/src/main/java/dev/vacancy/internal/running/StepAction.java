package dev.vacancy.internal.running;

import dev.vacancy.internal.planning.Step;
import dev.vacancy.internal.trail.Action;

/**
 * What the trail says that a step does to records.
 *
 * @since 0.1
 */
public final class StepAction {
    private StepAction() {}

    /**
     * Says it.
     *
     * @param step the step
     * @param purging whether its run takes what was soft-deleted long ago
     * @return the action
     */
    public static Action of(Step step, boolean purging) {
        if (step instanceof Step.Detach) {
            return Action.DETACHED;
        }
        if (step instanceof Step.Reassign) {
            return Action.REASSIGNED;
        }
        if (step instanceof Step.Reset) {
            return Action.RESET;
        }
        if (step instanceof Step.Touch) {
            return Action.TOUCHED;
        }
        if (step instanceof Step.Mark) {
            return Action.MARKED;
        }
        return purging ? Action.PURGED : Action.DELETED;
    }
}
