package dev.vacancy.history;

import dev.vacancy.By;
import dev.vacancy.catalog.RecordContent;
import java.time.Instant;
import java.util.Optional;
import java.util.UUID;

/**
 * A soft-deleted record.
 *
 * @param record the record as it stands
 * @param run the run that deleted it, as far as the trail knows
 * @param by who deleted it, and why, as far as the trail knows
 * @param at since when, as far as the marker or the trail knows
 * @param daysLeft how many days until it may be purged; empty if it is kept for always
 * @since 0.1
 */
public record DeletedRecord(
        RecordContent record, Optional<UUID> run, Optional<By> by, Optional<Instant> at, Optional<Long> daysLeft) {}
