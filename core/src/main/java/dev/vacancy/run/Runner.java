package dev.vacancy.run;

import dev.vacancy.catalog.Column;
import dev.vacancy.confirm.Approval;
import dev.vacancy.dialect.Dialect;
import dev.vacancy.dialect.Fragment;
import dev.vacancy.dialect.Statements;
import dev.vacancy.failure.DatabaseException;
import dev.vacancy.failure.LockedException;
import dev.vacancy.plan.Effect;
import dev.vacancy.plan.Plan;
import dev.vacancy.plan.Planner;
import dev.vacancy.plan.Step;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/**
 * Carries out what was approved, and nothing else: locks the records, plans again, compares, and only then changes
 * anything.
 *
 * @since 0.1
 */
public final class Runner {
    private static final Duration LONGEST_LOCK_WAIT = Duration.ofSeconds(5);

    private final Planner planner;
    private final Dialect dialect;
    private final Clock clock;

    /**
     * Makes a runner.
     *
     * @param planner plans again what was approved
     * @param dialect the dialect of the database
     * @param clock tells when a run began and how long it took
     */
    public Runner(Planner planner, Dialect dialect, Clock clock) {
        this.planner = planner;
        this.dialect = dialect;
        this.clock = clock;
    }

    /**
     * Runs an approved plan, all or nothing.
     *
     * @param approval what was agreed to
     * @param transactions where to run it
     * @return what happened
     * @throws StalePlanException when the plan would be another one now
     * @throws LockedException when somebody else holds one of the records
     * @throws DatabaseException when the database refuses a statement
     */
    public Outcome run(Approval approval, Transactions transactions) {
        Instant start = clock.instant();
        Plan done = transactions.writing(connection -> {
            if (transactions instanceof OwnTransactions) {
                limitLockWait(connection);
            }
            Plan now = planner.lock(connection, approval.plan());
            if (!now.fingerprint().equals(approval.fingerprint())) {
                throw new StalePlanException(Difference.between(approval.plan(), now));
            }
            for (Step step : now.steps()) {
                carryOut(step, connection);
            }
            return now;
        });
        Duration took = Duration.between(start, clock.instant());
        return new Outcome(
                UUID.randomUUID(),
                done.table().name(),
                done.by(),
                start,
                took,
                done.counts(),
                changed(done),
                done.roots(),
                done.notFound(),
                done.fingerprint());
    }

    private void limitLockWait(Connection connection) throws SQLException {
        Optional<Fragment> limit = dialect.limitLockWait(LONGEST_LOCK_WAIT);
        if (limit.isPresent()) {
            try (PreparedStatement statement = limit.get().prepare(connection)) {
                statement.execute();
            }
        }
    }

    private void carryOut(Step step, Connection connection) {
        try (PreparedStatement statement = statement(step).prepare(connection)) {
            long changed = statement.executeLargeUpdate();
            if (changed != step.count()) {
                String count = Math.abs(changed - step.count()) + (changed > step.count() ? " more" : " fewer");
                throw new StalePlanException(List.of(count + " of " + step.table()));
            }
        } catch (SQLException failure) {
            if (dialect.isLockFailure(failure)) {
                throw new LockedException(step.table().name(), failure);
            }
            throw new DatabaseException(
                    step.attempt(), "Nothing was changed; mend what it names and run again.", failure);
        }
    }

    private Fragment statement(Step step) {
        Fragment where = step.condition().in(dialect, step.table());
        String table = step.table().in(dialect);
        if (step instanceof Step.Detach detach) {
            return Statements.setNull(table, Column.in(dialect, detach.columns()), where);
        }
        if (step instanceof Step.Loosen loosen) {
            return Statements.setNull(table, Column.in(dialect, loosen.columns()), where);
        }
        if (step instanceof Step.Reset reset) {
            return Statements.setDefault(table, Column.in(dialect, reset.columns()), where);
        }
        if (step instanceof Step.Reassign reassign) {
            List<Fragment> values = new ArrayList<>();
            for (int i = 0; i < reassign.values().size(); i++) {
                values.add(dialect.value(
                        reassign.columns().get(i).type(), reassign.values().get(i)));
            }
            return Statements.set(table, Column.in(dialect, reassign.columns()), values, where);
        }
        return Statements.delete(table, where);
    }

    private static Map<String, Long> changed(Plan plan) {
        Map<String, Long> changed = new LinkedHashMap<>();
        for (Effect effect : plan.effects()) {
            if (effect.isChange()) {
                changed.merge(effect.link().where(), effect.count(), Long::sum);
            }
        }
        return changed;
    }
}
