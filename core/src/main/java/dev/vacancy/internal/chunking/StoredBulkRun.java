package dev.vacancy.internal.chunking;

import dev.vacancy.By;
import dev.vacancy.Selection;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.catalog.Table;
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
    /** A run that begins. */
    static StoredBulkRun begun(
            UUID id, BulkOptions options, Table table, Selection selection, By by, long records, Instant now) {
        return new StoredBulkRun(
                id,
                options.name().orElseGet(selection::words),
                table.name(),
                selection.words(),
                by,
                BulkState.RUNNING,
                records,
                0,
                0,
                0,
                0,
                now,
                Optional.empty(),
                now);
    }

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
