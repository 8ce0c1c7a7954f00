package dev.vacancy.internal.restoring;

import dev.vacancy.history.Conflict;
import java.util.List;
import java.util.Map;

/**
 * What of some runs can be undone.
 *
 * @param counts how many records come back, by table
 * @param putBack how many records get back what they referred to, by link
 * @param left what stays as it is, in sentences
 * @param conflicts what stands in the way
 * @since 0.1
 */
public record Restorable(
        Map<String, Long> counts, Map<String, Long> putBack, List<String> left, List<Conflict> conflicts) {}
