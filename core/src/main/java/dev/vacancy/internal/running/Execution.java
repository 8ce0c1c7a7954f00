package dev.vacancy.internal.running;

import dev.vacancy.catalog.Column;
import dev.vacancy.failure.DatabaseException;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.internal.dialect.Deferral;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.planning.NotGranted;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.run.NotAsPlannedException;
import dev.vacancy.run.StalePlanException;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.function.Function;
import java.util.stream.Collectors;

/** Carries out the steps of a plan on a connection, and sees to it that each does exactly what the plan says. */
final class Execution {
    private static final Fragment NULL = Fragment.of("null");

    private final Planned planned;
    private final Planner planner;
    private final Dialect dialect;
    private final Connection connection;

    Execution(Planned planned, Planner planner, Dialect dialect, Connection connection) {
        this.planned = planned;
        this.planner = planner;
        this.dialect = dialect;
        this.connection = connection;
    }

    void carryOut() throws SQLException {
        Optional<Proof> proof = Proof.of(planned, planner.rules().catalog(), dialect);
        if (isPlain() && new Pipeline(planned.steps(), this::statementOf, proof, connection).carryOut()) {
            return;
        }
        List<OptionalLong> before = proof.isPresent() ? ask(proof.get()) : List.of();
        Optional<Deferral> deferral = planned.deferring() ? dialect.deferral() : Optional.empty();
        if (deferral.isPresent()) {
            execute(deferral.get().begin());
        }
        for (Step step : planned.steps()) {
            execute(step);
            refuseUselessDefault(step);
        }
        for (Step step : planned.steps()) {
            refuseLeft(step);
        }
        if (deferral.isPresent()) {
            execute(deferral.get().end());
        }
        if (proof.isPresent()) {
            proof.get().compare(before, ask(proof.get()));
        }
    }

    /** Whether each step is proved by the number of records that it changes, and the steps can travel together. */
    private boolean isPlain() {
        return dialect.pipelines()
                && planned.steps().size() > 1
                && !planned.deferring()
                && planned.steps().stream().noneMatch(step -> step instanceof Step.Reset || isTogether(step));
    }

    private List<OptionalLong> ask(Proof proof) throws SQLException {
        try (PreparedStatement statement = proof.query().prepare(connection);
                ResultSet row = statement.executeQuery()) {
            return proof.read(row);
        }
    }

    private void execute(String statement) throws SQLException {
        try (PreparedStatement prepared = connection.prepareStatement(statement)) {
            prepared.execute();
        }
    }

    private Fragment statementOf(Step step) {
        return governed(statement(step));
    }

    private void execute(Step step) {
        try (PreparedStatement statement = statementOf(step).prepare(connection)) {
            long changed = statement.executeLargeUpdate();
            boolean cascaded = isTogether(step) && changed < step.count();
            if (changed != step.count() && !cascaded) {
                long kept = left(step);
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
    private void refuseLeft(Step step) throws SQLException {
        long left = isTogether(step) ? left(step) : 0;
        if (left > 0) {
            throw NotAsPlannedException.kept(step.attempt(), step.table().name(), step.count(), left);
        }
    }

    /** Not every database notices by itself that a default leads back to a parent that goes. */
    private void refuseUselessDefault(Step step) throws SQLException {
        if (step instanceof Step.Reset reset && left(reset) > 0) {
            String columns = reset.columns().stream().map(Column::name).collect(Collectors.joining(", "));
            throw new InvalidRequestException(
                    FailureCode.USELESS_DEFAULT,
                    "The default of " + columns + " in " + reset.table() + " names a record that goes too.",
                    "Nothing was changed; give that link another rule, or the column another default.");
        }
    }

    private long left(Step step) throws SQLException {
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
}
