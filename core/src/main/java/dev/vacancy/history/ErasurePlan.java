package dev.vacancy.history;

import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Proposal;
import dev.vacancy.internal.restoring.PlannedErasure;
import dev.vacancy.rule.Consent;
import dev.vacancy.wording.Wording;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/**
 * What erasing the content of a record from the audit trail would do, where the record itself is gone already. There is no way back from it.
 *
 * @since 0.1
 */
public sealed interface ErasurePlan extends Proposal permits PlannedErasure {
    /** {@return the table of the record} */
    String table();

    /** {@return the record's key, as the trail spells it} */
    String key();

    /** {@return who wants it, and why} */
    @Override
    By by();

    /** {@return when the plan was made} */
    @Override
    Instant madeAt();

    /** {@return how many entries of the trail would lose their content: 0 or more} */
    default long entries() {
        return counts().values().stream().mapToLong(Long::longValue).sum();
    }

    /** {@return the holds on the record and on what went with it; of standing ones on their tables, as the trail can't tell what met them} */
    List<TrailRun> holds();

    /** {@return whether the record is still there, so that erasing it from the trail would hide nothing} */
    boolean isThere();

    @Override
    default String subject() {
        return table();
    }

    /** {@return how many entries would lose their content, by table: those of the record, and of whatever went with it} */
    @Override
    Map<String, Long> counts();

    /** {@return at least a yes, and what the rules want of a record that goes with no way back} */
    @Override
    default Consent consent() {
        return demanded().and(Consent.YES);
    }

    /** {@return the key: what the record was called is what is to be forgotten} */
    @Override
    default String label() {
        return key();
    }

    @Override
    default boolean isBlocked() {
        return isThere() || !holds().isEmpty();
    }

    @Override
    default void refuseBlocked() {
        if (!holds().isEmpty()) {
            TrailRun hold = holds().get(0);
            throw new InvalidRequestException(
                    FailureCode.BLOCKED,
                    "Records of " + table() + " are held by " + hold.by().actor() + " (" + hold.selection() + "): "
                            + hold.by().reason().orElse("") + ". "
                            + (hold.isStanding()
                                    ? "Whether " + key() + " is one of them can't be told from the trail."
                                    : hold.table().equals(table())
                                            ? key() + " is one of them."
                                            : "Some of what went with " + key() + " are among them."),
                    "Lift the hold " + hold.runId() + " first.");
        }
        if (isThere()) {
            throw new InvalidRequestException(
                    FailureCode.RUN_STATE,
                    table() + " " + key() + " is still there, so erasing it from the trail would hide nothing.",
                    "Delete it for good first.");
        }
    }

    @Override
    default String question(Wording words) {
        return words.text("erase", table(), key(), entries()) + " " + words.text("question.no-way-back");
    }
}
