package dev.vacancy.internal.restoring;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.history.ErasurePlan;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.history.TrailRun;
import java.util.List;
import java.util.Locale;
import java.util.UUID;

/** Refuses what can't be asked of any trail. */
final class HistoryRequests {
    private HistoryRequests() {}

    static InvalidRequestException withoutTrail() {
        return new InvalidRequestException(
                FailureCode.NO_TRAIL,
                "There is no audit trail: the rules don't say where to keep one.",
                "Add it to the rules: RuleBook.trail(…), or 'trail: on' in vacancy.yaml.");
    }

    static void requireReasonToHold(By by) {
        if (by.reason().isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.USAGE, "A hold needs a reason.", "Say why, for whoever meets it years later.");
        }
    }

    static InvalidRequestException noneToHold(Object table, Object criteria) {
        return new InvalidRequestException(
                FailureCode.NOTHING_SELECTED,
                "There is no record of " + table + " where " + criteria + ", so none would be held.",
                "Hold those that come to meet it by standingHold, or 'hold --standing'.");
    }

    static TrailRun held(List<TrailRun> holds, UUID hold) {
        return holds.stream()
                .filter(run -> run.runId().equals(hold))
                .findFirst()
                .orElseThrow(() -> new InvalidRequestException(
                        FailureCode.UNKNOWN_RUN,
                        "There is no hold " + hold + ", or it is lifted already.",
                        "List the holds to see which there are."));
    }

    static RestorePlan restore(Approval approval) {
        if (approval.plan() instanceof RestorePlan plan) {
            return plan;
        }
        throw new InvalidRequestException(
                FailureCode.APPROVAL_OF_ANOTHER,
                "This approval is of no restore.",
                "Plan the restore by planRestore, and agree to that.");
    }

    static ErasurePlan erasure(Approval approval) {
        if (approval.plan() instanceof ErasurePlan plan) {
            return plan;
        }
        throw new InvalidRequestException(
                FailureCode.APPROVAL_OF_ANOTHER,
                "This approval is of no erasure from the trail.",
                "Plan the erasure by planErasure, and agree to that.");
    }

    static List<String> differing(String what, long now, long agreed) {
        return List.of(String.format(Locale.ROOT, "%,d %s instead of %,d", now, what, agreed));
    }

    static List<String> staleRestore(UUID undone) {
        return List.of("something else now stands where the records of run " + undone
                + " stood, or less of them can come back");
    }
}
