package dev.vacancy.internal.running;

import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.RunFacts;

/**
 * How a run is written down.
 *
 * @param recording where, and what is left out
 * @param facts what is said of it beside its records
 * @since 0.1
 */
public record Recorded(Rules.Recording recording, RunFacts facts) {}
