package dev.vacancy.internal.request;

import dev.vacancy.rule.Clause;
import dev.vacancy.rule.TraceRule;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** What an application has given as {@link TraceRule}. */
public record GivenTraceRule(
        List<String> knownByColumns,
        Map<String, Optional<String>> places,
        Map<String, List<Clause>> clauses,
        Optional<String> keptRecord,
        List<String> maskedColumns)
        implements TraceRule {
    /** Keeps its own copies. */
    public GivenTraceRule {
        knownByColumns = List.copyOf(knownByColumns);
        places = Collections.unmodifiableMap(new LinkedHashMap<>(places));
        clauses = Collections.unmodifiableMap(new LinkedHashMap<>(clauses));
        maskedColumns = List.copyOf(maskedColumns);
    }

    @Override
    public TraceRule masking(String... names) {
        Map<String, Optional<String>> more = new LinkedHashMap<>(places);
        for (String name : names) {
            more.put(name, Optional.empty());
        }
        return withPlaces(more);
    }

    @Override
    public TraceRule keeping(String place, String reason) {
        Map<String, Optional<String>> more = new LinkedHashMap<>(places);
        more.put(place, Optional.of(reason));
        return withPlaces(more);
    }

    private TraceRule withPlaces(Map<String, Optional<String>> more) {
        return new GivenTraceRule(knownByColumns, more, clauses, keptRecord, maskedColumns);
    }

    @Override
    public TraceRule on(String link, Clause... given) {
        Map<String, List<Clause>> more = new LinkedHashMap<>(clauses);
        more.put(link, List.of(given));
        return new GivenTraceRule(knownByColumns, places, more, keptRecord, maskedColumns);
    }

    @Override
    public TraceRule keepingRecord(String reason, String... masked) {
        return new GivenTraceRule(knownByColumns, places, clauses, Optional.of(reason), List.of(masked));
    }
}
