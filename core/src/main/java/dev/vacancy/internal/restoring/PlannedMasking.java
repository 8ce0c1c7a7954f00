package dev.vacancy.internal.restoring;

import dev.vacancy.By;
import dev.vacancy.history.MaskingPlan;
import dev.vacancy.history.Mention;
import dev.vacancy.history.TrailRun;
import dev.vacancy.internal.planning.Gated;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.rule.Consent;
import java.time.Instant;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;

/**
 * The plan of a masking, with all that the gate looks at.
 *
 * @since 0.1
 */
public record PlannedMasking(
        String text,
        By by,
        Instant madeAt,
        List<Mention> mentions,
        Map<String, Long> counts,
        List<TrailRun> holds,
        List<UUID> openBulkRuns,
        String fingerprint,
        Consent demanded,
        boolean colleague,
        Scope scope)
        implements MaskingPlan, Gated {
    /** Keeps its own copies. */
    public PlannedMasking {
        mentions = List.copyOf(mentions);
        holds = List.copyOf(holds);
        openBulkRuns = List.copyOf(openBulkRuns);
        counts = Collections.unmodifiableMap(new TreeMap<>(counts));
    }

    @Override
    public PlannedMasking proposal() {
        return this;
    }
}
