package dev.vacancy.bulk;

import dev.vacancy.plan.By;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;

/**
 * A bulk run as it stands.
 *
 * @param runId its id
 * @param name what people call it
 * @param table the table whose records were selected
 * @param selection the selection in words
 * @param by who wanted it, and why
 * @param state where it stands
 * @param records how many records were selected when it began
 * @param done how many of them are deleted
 * @param skipped how many were not there any more, or kept by the application's decision
 * @param failed how many could not be deleted
 * @param deleted how many records were deleted in all, those that went with the selected ones among them
 * @param startedAt when it began
 * @param endedAt when it ended, empty if it hasn't
 * @since 0.1
 */
public record BulkRun(
        UUID runId,
        String name,
        String table,
        String selection,
        By by,
        BulkState state,
        long records,
        long done,
        long skipped,
        long failed,
        long deleted,
        Instant startedAt,
        Optional<Instant> endedAt) {
    /**
     * Returns how many of the selected records have not been dealt with.
     *
     * @return 0 or more
     */
    public long open() {
        return records - done - skipped - failed;
    }

    /**
     * Returns the bulk run in plain text and numbers, for a mapper to JSON or for a page.
     *
     * @return the same for programs
     */
    public BulkRunView view() {
        return BulkRunView.of(this);
    }
}
