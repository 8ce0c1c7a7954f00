package dev.vacancy.bulk;

import java.time.Instant;

/**
 * A bulk run for programs: text and numbers, which any mapper writes as JSON (RFC 8259) the same way. The command-line tool
 * prints this.
 *
 * @param run its id, a UUID (RFC 9562)
 * @param name what people call it
 * @param table the table whose records were selected
 * @param selection the selection in words
 * @param actor who wanted it
 * @param reason why, or null
 * @param state one of {@code running}, {@code paused}, {@code stopped}, {@code cancelled} and {@code done}
 * @param records how many records were selected when it began
 * @param done how many of them are deleted
 * @param skipped how many were not there any more, or kept
 * @param failed how many could not be deleted
 * @param deleted how many records were deleted in all
 * @param startedAt when it began, as in ISO 8601, UTC
 * @param endedAt when it ended, or null
 * @param workedAt when somebody worked on it last; one that is running and hasn't been worked on for minutes has lost its worker
 * @since 0.1
 */
public record BulkRunView(
        String run,
        String name,
        String table,
        String selection,
        String actor,
        String reason,
        String state,
        long records,
        long done,
        long skipped,
        long failed,
        long deleted,
        String startedAt,
        String endedAt,
        String workedAt) {
    static BulkRunView of(BulkRun run) {
        return new BulkRunView(
                run.runId().toString(),
                run.name(),
                run.table(),
                run.selection(),
                run.by().actor(),
                run.by().reason().orElse(null),
                run.state().toString(),
                run.records(),
                run.done(),
                run.skipped(),
                run.failed(),
                run.deleted(),
                run.startedAt().toString(),
                run.endedAt().map(Instant::toString).orElse(null),
                run.workedAt().toString());
    }
}
