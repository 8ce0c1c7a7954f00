package dev.vacancy.internal.running;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.confirm.Approval;
import dev.vacancy.confirm.BlockedException;
import dev.vacancy.criteria.Selection;
import dev.vacancy.failure.DatabaseException;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.failure.LockedException;
import dev.vacancy.failure.VacancyException;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.dialect.Deferral;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.planning.NotGranted;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.plan.By;
import dev.vacancy.plan.Effect;
import dev.vacancy.plan.Plan;
import dev.vacancy.run.NotAsPlannedException;
import dev.vacancy.run.Outcome;
import dev.vacancy.run.StalePlanException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Collectors;

/**
 * Carries out what was approved, and nothing else: locks the records, plans again, compares, and only then changes
 * anything.
 *
 * @since 0.1
 */
public final class Runner {
    /** The class of SQLSTATE of transactions that the database ended (ISO/IEC 9075-2, section 24.1). */
    private static final String TRANSACTION_ROLLBACK = "40";

    private static final Fragment NULL = Fragment.of("null");

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
        Plan done;
        try {
            done = execute(approval, transactions);
        } catch (NotGranted lock) {
            throw named(lock, transactions);
        }
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
                done.selected(),
                done.notFound(),
                // The same as in the run, by the fingerprint, and with the children's names.
                approval.plan().skipped(),
                done.fingerprint());
    }

    private Plan execute(Approval approval, Transactions transactions) {
        refuseOverlooking(approval.plan(), transactions);
        return transactions.writing(connection -> {
            Planned planned = planner.lock(connection, approval.plan());
            Plan now = planned.plan();
            if (!now.fingerprint().equals(approval.fingerprint())) {
                throw new StalePlanException(Difference.between(approval.plan(), now));
            }
            carryOut(planned, connection);
            return now;
        });
    }

    /**
     * Plans a deletion and runs it at once, inside a transaction of the caller's: whoever asks has agreed to whatever the
     * selection matches.
     *
     * @param selection what to delete; blocked records are best left out
     * @param by who wants it, and why
     * @param connection a connection in a transaction that writes
     * @param fit refuses plans by an exception of its own, before anything is changed
     * @return the plan that was carried out
     * @throws BlockedException when records forbid the deletion
     * @throws LockedException when somebody else holds one of the records
     */
    public Plan runAtOnce(Selection selection, By by, Connection connection, Consumer<Plan> fit) {
        try {
            Planned planned = planner.lock(connection, selection, by);
            fit.accept(planned.plan());
            Approval.of(planned.plan());
            carryOut(planned, connection);
            return planned.plan();
        } catch (NotGranted lock) {
            throw unnamed(lock);
        } catch (SQLException failure) {
            throw new DatabaseException("end the deletion", "Nothing was changed.", failure);
        }
    }

    private void carryOut(Planned planned, Connection connection) throws SQLException {
        Proof proof = Proof.begin(planned, planner.rules().catalog(), dialect, connection);
        Optional<Deferral> deferral = planned.deferring() ? dialect.deferral() : Optional.empty();
        if (deferral.isPresent()) {
            execute(deferral.get().begin(), connection);
        }
        for (Step step : planned.steps()) {
            execute(step, connection);
            refuseUselessDefault(step, connection);
        }
        for (Step step : planned.steps()) {
            refuseLeft(step, connection);
        }
        if (deferral.isPresent()) {
            execute(deferral.get().end(), connection);
        }
        proof.end();
    }

    /** A transaction that looks at an old state of the database doesn't see the children that were added since. */
    private void refuseOverlooking(Plan plan, Transactions transactions) {
        boolean declared = planner.rules().catalog().links().stream()
                .filter(link -> plan.counts().containsKey(link.parent().name()))
                .allMatch(Link::isEnforced);
        if (transactions.joinedAt().isPresent()
                && dialect.overlooksChildren(transactions.joinedAt().getAsInt(), declared)) {
            throw new InvalidRequestException(
                    FailureCode.ISOLATION,
                    "The transaction to join may not see children that others have added since it began"
                            + (declared ? "" : ", on links that the database doesn't declare")
                            + ", and its isolation level, "
                            + Isolation.name(transactions.joinedAt().getAsInt())
                            + ", would leave them as orphans.",
                    "Join a transaction at " + dialect.seesChildrenAt() + ", or run outside of it.");
        }
    }

    private static void execute(String statement, Connection connection) throws SQLException {
        try (PreparedStatement prepared = connection.prepareStatement(statement)) {
            prepared.execute();
        }
    }

    /** Asks once more for the records, in transactions of their own, to tell which of them are held. */
    private LockedException named(NotGranted lock, Transactions transactions) {
        if (isConflict(lock)) {
            return unnamed(lock);
        }
        String table = lock.table().name();
        if (dialect.skippingLocked(Fragment.of("")).isEmpty()) {
            return LockedException.ofDatabase(table, lock.getCause());
        }
        try {
            return LockedException.of(table, held(lock, transactions), lock.getCause());
        } catch (VacancyException | NotGranted unknown) {
            LockedException unnamed = LockedException.of(table, List.of(), lock.getCause());
            unnamed.addSuppressed(unknown);
            return unnamed;
        }
    }

    private static boolean isConflict(NotGranted lock) {
        return String.valueOf(lock.getCause().getSQLState()).startsWith(TRANSACTION_ROLLBACK);
    }

    private static LockedException unnamed(NotGranted lock) {
        String table = lock.table().name();
        return isConflict(lock)
                ? LockedException.ofConflict(table, lock.getCause())
                : LockedException.of(table, List.of(), lock.getCause());
    }

    private List<String> held(NotGranted lock, Transactions transactions) {
        if (lock.wanted().isEmpty()) {
            return List.of();
        }
        Condition wanted = lock.wanted().get();
        List<Key> held = new ArrayList<>(transactions.reading(
                connection -> planner.keys(connection, lock.table(), wanted, Integer.MAX_VALUE, false)));
        held.removeAll(transactions.writing(
                connection -> planner.keys(connection, lock.table(), wanted, Integer.MAX_VALUE, true)));
        return held.stream().map(Key::text).toList();
    }

    private void execute(Step step, Connection connection) {
        try (PreparedStatement statement = governed(statement(step)).prepare(connection)) {
            long changed = statement.executeLargeUpdate();
            boolean cascaded = isTogether(step) && changed < step.count();
            if (changed != step.count() && !cascaded) {
                long kept = left(step, connection);
                if (changed < step.count() && kept > 0) {
                    throw NotAsPlannedException.kept(
                            step.attempt(), step.table().name(), step.count(), kept);
                }
                String count = Math.abs(changed - step.count()) + (changed > step.count() ? " more" : " fewer");
                throw new StalePlanException(List.of(count + " of " + step.table()));
            }
        } catch (SQLException failure) {
            if (dialect.isLockFailure(failure)) {
                throw new NotGranted(step.table(), Optional.of(step.condition()), failure);
            }
            throw new DatabaseException(
                    step.attempt(), "Nothing was changed; mend what it names and run again.", failure);
        }
    }

    private static boolean isTogether(Step step) {
        return step instanceof Step.Delete delete && delete.together();
    }

    /** Where the number of deleted records tells too little, sees to it that none of them is left. */
    private void refuseLeft(Step step, Connection connection) throws SQLException {
        long left = isTogether(step) ? left(step, connection) : 0;
        if (left > 0) {
            throw NotAsPlannedException.kept(step.attempt(), step.table().name(), step.count(), left);
        }
    }

    /** Not every database notices by itself that a default leads back to a parent that goes. */
    private void refuseUselessDefault(Step step, Connection connection) throws SQLException {
        if (step instanceof Step.Reset reset && left(reset, connection) > 0) {
            String columns = reset.columns().stream().map(Column::name).collect(Collectors.joining(", "));
            throw new InvalidRequestException(
                    FailureCode.USELESS_DEFAULT,
                    "The default of " + columns + " in " + reset.table() + " names a record that goes too.",
                    "Nothing was changed; give that link another rule, or the column another default.");
        }
    }

    private long left(Step step, Connection connection) throws SQLException {
        Fragment from = dialect.from(
                dialect.name(step.table()),
                Statements.alias(),
                identity(step),
                step.condition().alternatives(dialect));
        Fragment query = governed(Statements.select(List.of("count(*)"), from));
        try (PreparedStatement statement = query.prepare(connection);
                ResultSet row = statement.executeQuery()) {
            row.next();
            return row.getLong(1);
        }
    }

    private Fragment governed(Fragment statement) {
        return dialect.governed(statement, planner.limits().lockWait());
    }

    private Fragment statement(Step step) {
        if (step instanceof Step.Detach detach) {
            return update(detach, detach.columns(), column -> NULL);
        }
        if (step instanceof Step.Loosen loosen) {
            return update(loosen, loosen.columns(), column -> NULL);
        }
        if (step instanceof Step.Reset reset) {
            return update(
                    reset,
                    reset.columns(),
                    column -> dialect.defaultOf(column.declaredDefault().orElse(null)));
        }
        if (step instanceof Step.Reassign reassign) {
            Map<Column, Object> values = new HashMap<>();
            for (int i = 0; i < reassign.values().size(); i++) {
                values.put(reassign.columns().get(i), reassign.values().get(i));
            }
            return update(reassign, reassign.columns(), column -> dialect.stored(column.type(), values.get(column)));
        }
        return dialect.delete(
                dialect.name(step.table()),
                Statements.alias(),
                identity(step),
                step.condition().alternatives(dialect));
    }

    private Fragment update(Step step, List<Column> columns, Function<Column, Fragment> value) {
        return dialect.update(
                dialect.name(step.table()),
                Statements.alias(),
                identity(step),
                dialect.names(columns),
                columns.stream().map(value).toList(),
                step.condition().alternatives(dialect));
    }

    private List<String> identity(Step step) {
        return dialect.names(Statements.alias(), step.table().identity());
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
