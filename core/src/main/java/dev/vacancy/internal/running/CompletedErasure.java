package dev.vacancy.internal.running;

import dev.vacancy.ErasureOutcome;
import dev.vacancy.Outcome;

/**
 * What an erasure did.
 *
 * @since 0.1
 */
public record CompletedErasure(Outcome outcome, long entries) implements ErasureOutcome {}
