package dev.vacancy.trace;

import dev.vacancy.By;
import java.time.Instant;
import java.util.Collections;
import java.util.Map;
import java.util.TreeMap;

/**
 * What came of erasing all that is known of a person, proven by looking once more before it was committed.
 *
 * @param table the table of the person's record
 * @param key its key
 * @param by who wanted it, and why
 * @param at when it was done
 * @param deleted how many records went, by table
 * @param masked in how many places something was masked, by table: columns of text, and words of runs
 * @param entries how many entries of the audit trail have lost their content
 * @param left what is left: nothing but what was to stay
 * @since 0.1
 */
public record TraceOutcome(
        String table,
        String key,
        By by,
        Instant at,
        Map<String, Long> deleted,
        Map<String, Long> masked,
        long entries,
        Trace left) {
    /** Keeps its own copies. */
    public TraceOutcome {
        deleted = Collections.unmodifiableMap(new TreeMap<>(deleted));
        masked = Collections.unmodifiableMap(new TreeMap<>(masked));
    }
}
