package dev.vacancy.internal.running;

import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.StalePlanException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.SqlCondition;
import dev.vacancy.internal.dialect.Deferral;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.failure.Deviations;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.store.LockNotGranted;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.stream.Collectors;

/** Carries out the steps of a plan on a connection, and sees to it that each does exactly what the plan says. */
final class Execution {
    private final Planned planned;
    private final Planner planner;
    private final Dialect dialect;
    private final Connection connection;
    private final ColumnAssignments writing;
    private final Optional<Recording> recording;
    private final DeletedCounts deleted = new DeletedCounts();

    /**
     * Prepares to carry out a plan.
     *
     * @param passage proof that this plan has come through the gate
     * @param recording writes down what the records were; empty without a trail
     */
    Execution(
            Passage passage,
            Planned planned,
            Planner planner,
            Dialect dialect,
            Connection connection,
            ColumnAssignments writing,
            Optional<Recording> recording) {
        passage.require(planned.plan());
        this.planned = planned;
        this.planner = planner;
        this.dialect = dialect;
        this.connection = connection;
        this.writing = writing;
        this.recording = recording;
    }

    /** Carries out the steps; returns how many records went that the plan hadn't counted. */
    DeletedCounts carryOut() throws SQLException {
        Optional<CascadeProof> proof = CascadeProof.of(planned, planner.rules().catalog(), dialect);
        List<Change> changes = changes();
        if (isPlain()) {
            Optional<DeletedCounts> together = new Pipeline(changes, proof, connection).carryOut();
            if (together.isPresent()) {
                return together.get();
            }
        }
        Optional<Deferral> deferral = planned.deferring() ? dialect.deferral() : Optional.empty();
        if (deferral.isPresent()) {
            execute(deferral.get().begin());
        }
        for (Change change : changes) {
            if (!change.isLast()) {
                execute(change);
            }
        }
        List<OptionalLong> before = proof.isPresent() ? ask(proof.get()) : List.of();
        for (Change change : changes) {
            if (change.isLast()) {
                execute(change);
                refuseUselessDefault(change.step());
            }
        }
        for (Step step : planned.steps()) {
            refuseLeft(step);
        }
        if (deferral.isPresent()) {
            execute(deferral.get().end());
        }
        if (proof.isPresent()) {
            proof.get().compare(before, ask(proof.get()), deleted);
        }
        return deleted;
    }

    /** What the run does, one statement each: first what the records are now is written down, and then they are changed. */
    private List<Change> changes() {
        List<Change> changes = new ArrayList<>();
        List<Change> deletions = new ArrayList<>();
        boolean atOnce = planned.steps().stream().noneMatch(step -> step instanceof Step.Loosen || isTogether(step))
                && !planned.deferring();
        int number = 0;
        for (Step step : planned.steps()) {
            number++;
            Fragment statement = statementOf(step);
            if (recording.isEmpty() || step instanceof Step.Loosen) {
                deletions.add(new Change(step, Optional.of(statement), number, true));
                continue;
            }
            Optional<Fragment> both = atOnce && step instanceof Step.Delete
                    ? recording.get().deleting(step, number, statement)
                    : Optional.empty();
            if (both.isPresent()) {
                deletions.add(new Change(step, both, number, true));
            } else {
                changes.add(new Change(step, recording.get().statement(step, number, from(step)), number, false));
                deletions.add(new Change(step, Optional.of(statement), number, true));
            }
        }
        changes.addAll(deletions);
        return changes;
    }

    /**
     * One statement of a run.
     *
     * @param step what it is about
     * @param statement the statement; empty where records are written down here and not by the database
     * @param number the step's number, from 1
     * @param isLast whether the step is done with it; otherwise its records are only written down
     */
    record Change(Step step, Optional<Fragment> statement, int number, boolean isLast) {}

    /** Whether each step is proved by the number of records that it changes, and the steps can travel together. */
    private boolean isPlain() {
        return dialect.pipelines()
                && planned.steps().size() > 1
                && !planned.deferring()
                && planned.steps().stream().noneMatch(step -> step instanceof Step.Reset || isTogether(step));
    }

    private List<OptionalLong> ask(CascadeProof proof) throws SQLException {
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

    private void execute(Change change) {
        Step step = change.step();
        try {
            long changed = executeStatement(change);
            if (!step.isCounted()) {
                deleted.add(step, changed);
                return;
            }
            boolean cascaded = change.isLast() && isTogether(step) && changed < step.count();
            if (changed != step.count() && !cascaded) {
                // A row that is appended to leaves the other as it was.
                long kept = latestRow(step).isPresent() ? 0 : left(step);
                if (change.isLast() && changed < step.count() && kept > 0) {
                    throw Deviations.kept(step.attempt(), step.table().name(), step.count(), kept);
                }
                String count = Math.abs(changed - step.count()) + (changed > step.count() ? " more" : " fewer");
                throw new StalePlanException(List.of(count + " of " + step.table()));
            }
        } catch (SQLException failure) {
            if (dialect.isLockFailure(failure)) {
                throw new LockNotGranted(step.table(), Optional.of(step.condition()), failure);
            }
            throw new DatabaseException(
                    change.isLast()
                            ? step.attempt()
                            : "write down " + step.table().name() + " in the audit trail",
                    "Nothing was changed; fix what it names and run again.",
                    failure);
        }
    }

    private long executeStatement(Change change) throws SQLException {
        if (change.statement().isEmpty()) {
            return recording.orElseThrow().record(change.step(), change.number(), from(change.step()), connection);
        }
        try (PreparedStatement statement = change.statement().get().prepare(connection)) {
            return statement.executeLargeUpdate();
        }
    }

    private static boolean isTogether(Step step) {
        return step instanceof Step.Delete delete && delete.together();
    }

    /** Where the number of deleted records tells too little, sees to it that none of them is left. */
    private void refuseLeft(Step step) throws SQLException {
        long left = isTogether(step) ? left(step) : 0;
        if (left > 0) {
            throw Deviations.kept(step.attempt(), step.table().name(), step.count(), left);
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

    private Fragment from(Step step) {
        return from(step.table(), step.condition());
    }

    private Fragment from(Table table, Condition condition) {
        return dialect.from(
                dialect.name(table),
                Statements.alias(),
                dialect.names(Statements.alias(), table.identity()),
                SqlCondition.alternatives(condition, dialect));
    }

    private long left(Step step) throws SQLException {
        Fragment query = governed(Statements.select(List.of("count(*)"), from(step)));
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
        Map<Column, Fragment> written = writing.columns(step);
        Optional<LatestRow> latest = latestRow(step);
        if (latest.isPresent()) {
            return appended(step, latest.get(), written);
        }
        return written.isEmpty()
                ? dialect.delete(
                        dialect.name(step.table()),
                        Statements.alias(),
                        identity(step),
                        SqlCondition.alternatives(step.condition(), dialect),
                        step.count())
                : dialect.update(
                        dialect.name(step.table()),
                        Statements.alias(),
                        identity(step),
                        dialect.names(List.copyOf(written.keySet())),
                        List.copyOf(written.values()),
                        SqlCondition.alternatives(step.condition(), dialect),
                        step.count());
    }

    private Optional<LatestRow> latestRow(Step step) {
        return step instanceof Step.Mark ? planner.rules().latestRow(step.table()) : Optional.empty();
    }

    /**
     * Appends a row to each, the same but for what is written. A lock on a row keeps nobody from appending one, so that it is the
     * latest is looked at again.
     */
    private Fragment appended(Step step, LatestRow latest, Map<Column, Fragment> written) {
        Table table = step.table();
        List<Column> columns = latest.copied(table);
        List<Fragment> values = new ArrayList<>();
        for (Column column : columns) {
            values.add(written.getOrDefault(column, Fragment.of(dialect.name(Statements.alias(), column))));
        }
        Condition followed = new Condition.Sibling(
                table,
                latest.key().stream().map(table::column).toList(),
                Optional.of(table.column(latest.column())),
                Optional.empty());
        Condition still = new Condition.AllOf(List.of(step.condition(), new Condition.Not(followed)));
        String into =
                "insert into " + dialect.name(table) + " (" + String.join(", ", dialect.names(columns)) + ") select ";
        return Fragment.join(", ", values).between(into, " from ").then(from(table, still));
    }

    private List<String> identity(Step step) {
        return dialect.names(Statements.alias(), step.table().identity());
    }
}
