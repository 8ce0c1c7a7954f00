package dev.vacancy.internal.restoring;

import dev.vacancy.By;
import dev.vacancy.history.ErasurePlan;
import dev.vacancy.history.TrailRun;
import dev.vacancy.internal.planning.Gated;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.rule.Consent;
import java.time.Instant;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * The plan of an erasure from the trail, with all that the gate looks at.
 *
 * @since 0.1
 */
public record PlannedErasure(
        String table,
        String key,
        By by,
        Instant madeAt,
        Map<String, Long> counts,
        List<TrailRun> holds,
        boolean isThere,
        String fingerprint,
        Consent demanded,
        boolean colleague,
        Scope scope)
        implements ErasurePlan, Gated {
    /** Keeps its own copies. */
    public PlannedErasure {
        holds = List.copyOf(holds);
        counts = Collections.unmodifiableMap(new TreeMap<>(counts));
    }

    @Override
    public PlannedErasure proposal() {
        return this;
    }
}
