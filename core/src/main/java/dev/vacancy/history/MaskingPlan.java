package dev.vacancy.history;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Proposal;
import dev.vacancy.internal.restoring.PlannedMasking;
import dev.vacancy.rule.Consent;
import dev.vacancy.wording.Wording;
import java.util.List;
import java.util.UUID;

/**
 * What masking a text wherever the audit trail has it would do. There is no way back from it.
 *
 * @since 0.1
 */
public sealed interface MaskingPlan extends Proposal permits PlannedMasking {
    /** {@return the text, whatever its case} */
    String text();

    /** {@return where it stands, the oldest first} */
    List<Mention> mentions();

    /** {@return the holds in force whose criteria, or whose records, have the text; of standing ones on the tables of such records} */
    List<TrailRun> holds();

    /** {@return the bulk runs that have the text and haven't ended} */
    List<UUID> openBulkRuns();

    @Override
    default String subject() {
        return mentions().stream().map(Mention::table).findFirst().orElse("");
    }

    /** {@return at least a yes, and what the rules want of a record that goes with no way back} */
    @Override
    default Consent consent() {
        return demanded().and(Consent.YES);
    }

    @Override
    default boolean isBlocked() {
        return !holds().isEmpty() || !openBulkRuns().isEmpty();
    }

    @Override
    default void refuseBlocked() {
        if (!holds().isEmpty()) {
            TrailRun hold = holds().get(0);
            throw new InvalidRequestException(
                    FailureCode.BLOCKED,
                    "The hold " + hold.runId() + " of " + hold.by().actor() + " on " + hold.table()
                            + (hold.isStanding()
                                    ? " is in force. Whether the records that have this text are among those that are held can't be told from the trail."
                                    : " is in force, and has this text in its criteria or on one of its records."),
                    "Lift the hold first.");
        }
        if (!openBulkRuns().isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.BLOCKED,
                    "The bulk run " + openBulkRuns().get(0) + " has this text and hasn't ended.",
                    "Let it end, or cancel it, first.");
        }
    }

    @Override
    default String question(Wording words) {
        return words.text("mask", text(), total()) + " " + words.text("question.no-way-back");
    }
}
