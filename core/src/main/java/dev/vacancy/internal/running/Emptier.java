package dev.vacancy.internal.running;

import dev.vacancy.Approval;
import dev.vacancy.DatabaseException;
import dev.vacancy.EmptyingPlan;
import dev.vacancy.Limits;
import dev.vacancy.Mode;
import dev.vacancy.StalePlanException;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Truncation;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.EmptyingPlanner;
import dev.vacancy.internal.planning.PlannedEmptying;
import dev.vacancy.internal.store.LockNotGranted;
import dev.vacancy.internal.trail.HoldsInForce;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Empties a table on a connection: takes locks first, looks again, compares, and only then drops or deletes all records. */
final class Emptier {
    /** Of more records nobody is told who holds which. */
    private static final long MOST_NAMED = 10_000;

    private final EmptyingPlanner planner;
    private final Dialect dialect;
    private final Limits limits;
    private final Gate gate;

    Emptier(EmptyingPlanner planner, Dialect dialect, Limits limits, Gate gate) {
        this.gate = gate;
        this.planner = planner;
        this.dialect = dialect;
        this.limits = limits;
    }

    /** Writes down all records of a table that is about to be emptied. */
    interface Witness {
        long record(EmptyingPlan plan, Connection connection) throws SQLException;
    }

    /** Returns the proof of the plan that was carried out. */
    Passage empty(Approval approval, Optional<Witness> witness, Optional<HoldsInForce> holds, Connection connection)
            throws SQLException {
        EmptyingPlan agreed = (EmptyingPlan) approval.plan();
        PlannedEmptying now = planner.plan(
                connection,
                agreed.emptying(),
                agreed.by(),
                agreed.madeAt(),
                holds.orElseGet(() -> planner.holds(connection)),
                true);
        Passage passage =
                gate.pass(approval, Mode.AT_ONCE, now, () -> differences(agreed, now.records() - agreed.records()));
        if (witness.isPresent()) {
            long recorded = witness.get().record(now, connection);
            if (recorded != now.records()) {
                throw stale(agreed, recorded - now.records());
            }
        }
        long deleted = execute(passage, now, connection);
        if (now.way() == EmptyingPlan.Way.DELETE && deleted != now.records()) {
            throw stale(agreed, deleted - now.records());
        }
        return passage;
    }

    private long execute(Passage passage, PlannedEmptying plan, Connection connection) {
        passage.require(plan);
        String table = dialect.name(plan.table());
        Fragment statement = plan.way() == EmptyingPlan.Way.TRUNCATE
                ? dialect.truncation(table).map(Truncation::statement).orElseThrow()
                : Fragment.of("delete from " + table);
        try (PreparedStatement prepared =
                dialect.governed(statement, limits.lockWait()).prepare(connection)) {
            return prepared.executeLargeUpdate();
        } catch (SQLException failure) {
            if (dialect.isLockFailure(failure)) {
                boolean named = plan.records() <= MOST_NAMED;
                throw new LockNotGranted(
                        plan.table(), named ? Optional.of(new Condition.Any()) : Optional.empty(), failure);
            }
            throw new DatabaseException(
                    "empty " + plan.table(), "Nothing was changed; fix what it names and run again.", failure);
        }
    }

    private static StalePlanException stale(EmptyingPlan agreed, long more) {
        return new StalePlanException(differences(agreed, more));
    }

    private static List<String> differences(EmptyingPlan agreed, long more) {
        String what = more == 0
                ? "other records, or another way to empty it,"
                : String.format(Locale.ROOT, "%,d %s", Math.abs(more), more > 0 ? "more" : "fewer");
        return List.of(what + " of " + agreed.table());
    }
}
