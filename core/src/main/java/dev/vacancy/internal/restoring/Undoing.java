package dev.vacancy.internal.restoring;

import dev.vacancy.internal.follow.FollowUpHandlers;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Reference;
import java.time.Clock;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Predicate;

/**
 * What is to be undone.
 *
 * @param rules the rules, with the trail
 * @param clock tells what "today" is
 * @param runs the ids of the runs, the last one first
 * @param only one record of them; empty for all
 * @param returned tells which of their entries have been undone before
 * @param handlers who bring back what belongs to records outside of the database
 * @since 0.1
 */
public record Undoing(
        Rules rules,
        Clock clock,
        List<UUID> runs,
        Optional<RecordInTrail> only,
        Predicate<Reference> returned,
        FollowUpHandlers handlers) {
    /** {@return what is written down, and where} */
    public Rules.Recording recording() {
        return rules.recording().orElseThrow();
    }
}
