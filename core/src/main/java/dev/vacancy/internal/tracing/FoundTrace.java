package dev.vacancy.internal.tracing;

import dev.vacancy.catalog.Key;
import dev.vacancy.trace.Trace;
import dev.vacancy.trace.TracePart;
import dev.vacancy.trace.Treatment;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.BiFunction;

/**
 * What was found of a person.
 *
 * @param record the key of their record, as it was given
 * @since 0.1
 */
public record FoundTrace(
        String table,
        String key,
        Key record,
        Optional<String> label,
        boolean isThere,
        Instant madeAt,
        List<TracePart> parts,
        List<String> warnings)
        implements Trace {
    /** Keeps its own copies. */
    public FoundTrace {
        parts = List.copyOf(parts);
        warnings = List.copyOf(warnings);
    }

    @Override
    public String tree(BiFunction<Treatment, String, String> words) {
        return TraceTree.of(this, words);
    }

    @Override
    public String toString() {
        return table + " " + key + ": " + parts.size() + " parts";
    }
}
