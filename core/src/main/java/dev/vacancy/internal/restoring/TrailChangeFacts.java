package dev.vacancy.internal.restoring;

import dev.vacancy.By;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.TrailTables;
import java.time.Clock;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/** What the trail says of a run that changes the trail itself, or what stands in it. */
record TrailChangeFacts(Rules rules, Clock clock) {
    /** Of a run that nobody else has to agree to, and that is about no other one. */
    RunFacts of(UUID id, RunKind kind, By by, String table, String selection, Map<String, Long> counts) {
        return of(id, kind, by, Optional.empty(), table, selection, counts, Optional.empty());
    }

    RunFacts of(
            UUID id,
            RunKind kind,
            By by,
            Optional<String> colleague,
            String table,
            String selection,
            Map<String, Long> counts,
            Optional<UUID> about) {
        return new RunFacts(
                id,
                kind,
                by.actor(),
                colleague,
                by.reason(),
                TrailTables.text(clock.instant()),
                table,
                selection,
                rules.digest(),
                counts,
                Optional.empty(),
                about);
    }
}
