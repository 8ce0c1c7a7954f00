package dev.vacancy.internal.tracing;

import dev.vacancy.By;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Mode;
import dev.vacancy.history.TrailRun;
import dev.vacancy.internal.planning.Gated;
import dev.vacancy.internal.planning.PlannedDeletion;
import dev.vacancy.internal.planning.Scope;
import dev.vacancy.internal.trail.SoughtText;
import dev.vacancy.rule.Consent;
import dev.vacancy.trace.Trace;
import dev.vacancy.trace.TracePlan;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/**
 * The erasure of all that is known of a person as it was worked out, with all that the gate looks at.
 *
 * @param sought the texts that the person is known by
 * @param deletion what becomes of records; of none, if the person's own is gone
 * @since 0.1
 */
public record PlannedTrace(
        Trace trace,
        By by,
        Instant madeAt,
        Optional<SoughtText> sought,
        PlannedDeletion deletion,
        List<TrailRun> holds,
        List<UUID> openBulkRuns,
        String fingerprint,
        Consent demanded,
        boolean colleague,
        Scope scope)
        implements TracePlan, Gated {
    /** Keeps its own copies. */
    public PlannedTrace {
        holds = List.copyOf(holds);
        openBulkRuns = List.copyOf(openBulkRuns);
    }

    @Override
    public Map<String, Long> counts() {
        return deletion.counts();
    }

    @Override
    public Map<String, Long> changes() {
        return deletion.changes();
    }

    @Override
    public boolean covers(Gated other) {
        return other == this || other == deletion;
    }

    @Override
    public String toString() {
        return "what is known of " + trace.table() + " " + trace.key();
    }

    @Override
    public PlannedTrace proposal() {
        return this;
    }

    @Override
    public boolean isBlocked() {
        return deletion.isBlocked() || !holds.isEmpty() || !openBulkRuns.isEmpty();
    }

    @Override
    public void refuseMode(Mode mode) {
        deletion.refuseMode(mode);
    }

    @Override
    public void refuseBlocked() {
        deletion.refuseBlocked();
        if (!holds.isEmpty()) {
            TrailRun hold = holds.get(0);
            throw new InvalidRequestException(
                    FailureCode.BLOCKED,
                    "Records of " + hold.table() + " are held by " + hold.by().actor()
                            + hold.by().reason().map(why -> ": " + why).orElse("") + ". "
                            + (hold.isStanding()
                                    ? "Whether what is known of " + trace.table() + " " + trace.key()
                                            + " is among them can't be told."
                                    : "What is known of " + trace.table() + " " + trace.key() + " is among them."),
                    "Lift the hold " + hold.runId() + " first.");
        }
        if (!openBulkRuns.isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.BLOCKED,
                    "The bulk run " + openBulkRuns.get(0) + " has something of " + trace.table() + " " + trace.key()
                            + " and hasn't ended.",
                    "Let it end, or cancel it, first.");
        }
    }
}
