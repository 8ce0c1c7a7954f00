package dev.vacancy.internal.chunking;

import dev.vacancy.By;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;

/**
 * A bulk run as its line tells it.
 *
 * @since 0.1
 */
public record StoredBulkRun(
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
        Optional<Instant> endedAt,
        Instant workedAt)
        implements BulkRun {
    /**
     * Returns the same by another name, for somebody who is not to know what was selected.
     *
     * @param otherName what it is called
     * @param otherSelection the selection in words
     * @return the run
     */
    public StoredBulkRun named(String otherName, String otherSelection) {
        return new StoredBulkRun(
                runId,
                otherName,
                table,
                otherSelection,
                by,
                state,
                records,
                done,
                skipped,
                failed,
                deleted,
                startedAt,
                endedAt,
                workedAt);
    }
}
