package dev.vacancy.schedule;

import java.time.Instant;
import java.util.Optional;

/**
 * A scheduled deletion as it stands.
 *
 * @param deletion what is to be deleted
 * @param due when it is due next
 * @param last what came of it last time, in words; empty if it hasn't been due yet
 * @since 0.1
 */
public record Upcoming(ScheduledDeletion deletion, Instant due, Optional<String> last) {}
