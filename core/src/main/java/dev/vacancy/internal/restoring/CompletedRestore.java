package dev.vacancy.internal.restoring;

import dev.vacancy.By;
import dev.vacancy.history.RestoreOutcome;
import java.time.Instant;
import java.util.Map;
import java.util.UUID;

/**
 * What a restore did.
 *
 * @since 0.1
 */
public record CompletedRestore(
        UUID runId, UUID undone, By by, Instant at, Map<String, Long> counts, Map<String, Long> putBack)
        implements RestoreOutcome {}
