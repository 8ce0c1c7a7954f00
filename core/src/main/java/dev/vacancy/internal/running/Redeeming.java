package dev.vacancy.internal.running;

import java.time.Instant;

/**
 * An approval that travelled, as it comes back to be redeemed once.
 *
 * @param approval its id
 * @param expiresAt when nobody can send it any more
 * @since 0.1
 */
public record Redeeming(String approval, Instant expiresAt) {}
