package dev.vacancy.internal.planning;

import dev.vacancy.By;
import dev.vacancy.Emptying;
import dev.vacancy.EmptyingPlan;
import dev.vacancy.Held;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.trail.HoldsInForce;
import dev.vacancy.rule.Consent;
import java.time.Instant;
import java.util.List;

/**
 * The emptying of a table as it was worked out.
 *
 * @param inForce what was kept to
 * @param colleague whether somebody else has to agree as well
 * @param demanded what a person has to have given by the application's own rules
 * @param scope what it is of
 * @since 0.1
 */
public record PlannedEmptying(
        Emptying emptying,
        By by,
        Instant madeAt,
        Table table,
        long records,
        Way way,
        List<String> passedOver,
        List<Held> holds,
        HoldsInForce inForce,
        String fingerprint,
        boolean colleague,
        Consent demanded,
        Scope scope)
        implements EmptyingPlan, Gated {
    /** Keeps its own copy of the names. */
    public PlannedEmptying {
        passedOver = List.copyOf(passedOver);
        holds = List.copyOf(holds);
    }

    @Override
    public PlannedEmptying proposal() {
        return this;
    }
}
