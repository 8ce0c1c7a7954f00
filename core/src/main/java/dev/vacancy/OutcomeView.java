package dev.vacancy;

import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.RecordContent;
import java.util.List;
import java.util.Map;

/**
 * An outcome for programs: plain records of text, numbers, lists and maps, which any mapper writes as JSON (RFC 8259) the
 * same way. The command-line tool prints this behind the plan's view.
 *
 * @param run the run's id, a UUID (RFC 9562)
 * @param table the table whose records were selected
 * @param by who wanted it
 * @param startedAt when the run began, as in ISO 8601, UTC
 * @param took how long it took, a duration as in ISO 8601
 * @param counts how many records were deleted of each table
 * @param marked the tables among these whose records were marked and stay
 * @param changed how many records stay with another foreign key, by link
 * @param deleted the selected records as they were, each column's value by its name, as {@link RecordContent#plainValues()}
 *     gives it
 * @param notFound the selected keys that no record had
 * @param skipped the selected records that were left out because children forbid their deletion
 * @param fingerprint the fingerprint of what was approved and done
 * @since 0.1
 */
public record OutcomeView(
        String run,
        String table,
        PlanView.Requester by,
        String startedAt,
        String took,
        Map<String, Long> counts,
        List<String> marked,
        Map<String, Long> changed,
        List<Map<String, Object>> deleted,
        List<String> notFound,
        List<PlanView.SkippedView> skipped,
        String fingerprint) {

    static OutcomeView of(Outcome outcome) {
        return new OutcomeView(
                outcome.runId().toString(),
                outcome.table(),
                PlanView.Requester.of(outcome.by()),
                outcome.startedAt().toString(),
                outcome.took().toString(),
                outcome.counts(),
                outcome.marked().stream().sorted().toList(),
                outcome.changed(),
                outcome.deleted().stream().map(RecordContent::plainValues).toList(),
                outcome.notFound().stream().map(Key::text).toList(),
                outcome.skipped().stream().map(PlanView.SkippedView::of).toList(),
                outcome.fingerprint());
    }
}
