package dev.vacancy.internal.running;

import dev.vacancy.ErasureOutcome;
import dev.vacancy.Outcome;

/**
 * What an erasure did.
 *
 * @since 0.1
 */
public record RunErasure(Outcome outcome, long entries) implements ErasureOutcome {}
