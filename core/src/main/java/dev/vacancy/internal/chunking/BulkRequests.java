package dev.vacancy.internal.chunking;

import dev.vacancy.Approval;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.StalePlanException;
import dev.vacancy.VacancyException;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.internal.planning.PlannedDeletion;
import dev.vacancy.internal.rules.Rules;
import java.util.List;
import java.util.Locale;
import java.util.UUID;

/** What is asked of bulk runs, and why some of it is refused: the same in each kind of database. */
final class BulkRequests {
    private BulkRequests() {}

    /** The deletion that somebody has agreed to. */
    static PlannedDeletion deletion(Approval approval) {
        if (approval.plan() instanceof PlannedDeletion agreed) {
            return agreed;
        }
        throw new InvalidRequestException(
                FailureCode.APPROVAL_OF_ANOTHER,
                "This approval is of no deletion, so it can't be carried out in chunks.",
                "Plan the deletion and agree to do it in chunks: Approval.inChunks, Question.aboutChunks.");
    }

    /** Refuses a run of other records than were agreed to. */
    static void refuseMoved(PlannedDeletion plan, long now, String keys, long tolerance) {
        long approved =
                plan.selected() + plan.skipped().size() + plan.notFound().size();
        if (Math.abs(now - approved) > tolerance) {
            throw new StalePlanException(List.of(String.format(
                    Locale.ROOT,
                    "%,d %s of %s",
                    Math.abs(now - approved),
                    now > approved ? "more" : "fewer",
                    plan.table())));
        }
        if (tolerance == 0 && plan.selection().keys().isEmpty() && !keys.equals(plan.selectedKeys())) {
            throw new StalePlanException(List.of("other records of " + plan.table() + " than before, though as many"));
        }
    }

    /** Refuses a worker with other rules, or another exemption. */
    static void requireSame(UUID id, RunConditions conditions, Rules rules, Exemption exemption) {
        if (!conditions.standing().scope().rules().equals(rules.digest())) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "The rules or the schema are others than those that bulk run " + id + " was approved with.",
                    "Cancel it and start a new one, or work on it with the rules that it was started with.");
        }
        if (!conditions.exemption().equals(exemption.name())) {
            throw new InvalidRequestException(
                    FailureCode.OTHER_EXEMPTION,
                    "Bulk run " + id + " was started with " + named(conditions.exemption()) + ", and this worker has "
                            + named(exemption.name()) + ".",
                    "Work on it with the exemption that it was started with.");
        }
    }

    private static String named(String exemption) {
        return exemption.isEmpty() ? "no exemption" : "the exemption '" + exemption + "'";
    }

    static VacancyException unknown(UUID id) {
        return new InvalidRequestException(
                        FailureCode.UNKNOWN_RUN,
                        "There is no bulk run " + id + ".",
                        "List them to see which there are.")
                .about("run", id);
    }

    static InvalidRequestException unmoved(BulkRun before, BulkState to) {
        return new InvalidRequestException(
                FailureCode.RUN_STATE,
                "Bulk run " + before.runId() + " is " + before.state() + " and can't become " + to + ".",
                before.state().isFinal() ? "Start a new one." : "Look at how it stands now.");
    }
}
