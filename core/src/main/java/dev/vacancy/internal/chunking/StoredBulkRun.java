package dev.vacancy.internal.chunking;

import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkState;
import dev.vacancy.plan.By;
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
        Optional<Instant> endedAt)
        implements BulkRun {}
