package dev.vacancy.audit;

import dev.vacancy.plan.By;
import java.time.Instant;
import java.util.Map;
import java.util.UUID;

/**
 * What came back.
 *
 * @param runId the id of the restore
 * @param undone the run that was undone
 * @param by who wanted it, and why
 * @param at when
 * @param counts how many records came back, by table
 * @param putBack how many foreign keys were put back, by link
 * @since 0.1
 */
public record RestoreOutcome(
        UUID runId, UUID undone, By by, Instant at, Map<String, Long> counts, Map<String, Long> putBack) {}
