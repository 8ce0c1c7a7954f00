package dev.vacancy.trace;

import dev.vacancy.Proposal;
import dev.vacancy.history.TrailRun;
import dev.vacancy.internal.tracing.PlannedTrace;
import dev.vacancy.rule.Consent;
import dev.vacancy.wording.Wording;
import java.util.List;
import java.util.UUID;

/**
 * What erasing all that is known of a person would do. There is no way back from it.
 *
 * @since 0.1
 */
public sealed interface TracePlan extends Proposal permits PlannedTrace {
    /** {@return what is known, each part with what becomes of it} */
    Trace trace();

    /** {@return the holds on any of it} */
    List<TrailRun> holds();

    /** {@return the bulk runs that have any of it and haven't ended} */
    List<UUID> openBulkRuns();

    @Override
    default String subject() {
        return trace().table();
    }

    /** {@return how many records, entries and places it changes or takes} */
    @Override
    default long total() {
        return trace().total();
    }

    /** {@return at least a yes, and what the rules want of a record that goes with no way back} */
    @Override
    default Consent consent() {
        return demanded().and(Consent.YES);
    }

    /** {@return the key: what the person was called is what is to be forgotten} */
    @Override
    default String label() {
        return trace().key();
    }

    @Override
    default String question(Wording words) {
        return words.text("trace", trace().table(), trace().key(), total()) + " " + words.text("question.no-way-back");
    }
}
