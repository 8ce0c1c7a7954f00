package dev.vacancy.internal.planning;

import dev.vacancy.Blocker;
import dev.vacancy.Effect;
import java.util.List;
import java.util.Map;

/** What follows from the records that go. */
record Consequences(
        Map<String, Long> counts,
        List<Effect> effects,
        List<Blocker> blockers,
        List<String> warnings,
        List<Step> steps,
        Map<String, Long> touched,
        boolean deferring,
        String fingerprint) {}
