package dev.vacancy.internal.retiring;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.LockedException;
import dev.vacancy.Mode;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.failure.LockFailures;
import dev.vacancy.internal.gate.Gate;
import dev.vacancy.internal.gate.Passage;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.running.Work;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.retirement.Dependent;
import dev.vacancy.retirement.Retired;
import dev.vacancy.retirement.Retirement;
import dev.vacancy.retirement.RetirementOutcome;
import dev.vacancy.retirement.RetirementPlan;
import dev.vacancy.retirement.RetirementStep;
import dev.vacancy.retirement.Retirements;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.locks.LockSupport;
import java.util.stream.Collectors;

/**
 * Columns and tables that retire: planned, set aside, dropped, brought back.
 *
 * @since 0.1
 */
public final class Retiring implements Retirements {
    private static final Duration TURN = Duration.ofMillis(50);

    private final Planner planner;
    private final RetirementPlanner planning;
    private final Dialect dialect;
    private final Transactions transactions;
    private final Clock clock;
    private final Gate gate;

    /**
     * Prepares to plan.
     *
     * @param planner knows the rules
     * @param dialect the dialect of the database
     * @param transactions where to read and write
     * @param clock tells when
     * @param gate lets through what was agreed to
     */
    public Retiring(Planner planner, Dialect dialect, Transactions transactions, Clock clock, Gate gate) {
        this.planner = planner;
        this.planning = new RetirementPlanner(planner, dialect, clock);
        this.dialect = dialect;
        this.transactions = transactions;
        this.clock = clock;
        this.gate = gate;
    }

    private <T> T reading(Work<T> work) {
        return transactions.reading(connection -> {
            try {
                return work.on(connection);
            } catch (SQLException failure) {
                throw new DatabaseException(
                        "tell what stands on it",
                        "Use an account that may look at the definitions of all that stands on it.",
                        failure);
            }
        });
    }

    /**
     * Plans to set something aside.
     *
     * @param wish what
     * @param by who wants it, and why
     * @return the plan
     */
    public RetirementPlan plan(Retirement wish, By by) {
        return reading(connection -> planning.setAside(connection, wish, by));
    }

    @Override
    public RetirementPlan planDrop(UUID id, Path folder, By by) {
        return reading(connection -> planning.drop(connection, id, folder, by));
    }

    @Override
    public RetirementPlan planReturn(UUID id, By by) {
        return reading(connection -> planning.back(connection, id, by));
    }

    /**
     * Names what no catalog has: tables that are set aside, and files of what was dropped.
     *
     * @param connection an open connection
     * @param dialect the dialect of the database
     * @return sentences
     * @throws SQLException when the database doesn't answer
     */
    public static List<String> outOfSight(Connection connection, Dialect dialect) throws SQLException {
        List<String> sentences = new ArrayList<>();
        for (StoredRetirement one : new RetirementTable(dialect).list(connection)) {
            Retired retired = one.retired();
            if (retired.state() == Retired.State.DROPPED) {
                sentences.add("What " + retired.name() + " held before it was dropped is in "
                        + retired.files().get(1) + ", which isn't looked through.");
            } else if (retired.state() != Retired.State.RETURNED
                    && retired.column().isEmpty()) {
                sentences.add("The table " + retired.name() + " is set aside as " + retired.nameAside()
                        + ", and isn't looked through.");
            }
        }
        return sentences;
    }

    @Override
    public List<Retired> list() {
        return reading(connection -> new RetirementTable(dialect)
                .list(connection).stream().map(StoredRetirement::retired).toList());
    }

    @Override
    public List<Retired> due() {
        Instant now = clock.instant();
        List<Retired> due = new ArrayList<>();
        list().stream().filter(retired -> retired.isDue(now)).forEach(retired -> due.add(0, retired));
        return List.copyOf(due);
    }

    /**
     * Carries out a step that was agreed to.
     *
     * @param approval the answer
     * @return what was done
     */
    public RetirementOutcome carryOut(Approval approval) {
        if (!(approval.plan() instanceof PlannedRetirement agreed)) {
            throw new InvalidRequestException(
                    FailureCode.APPROVAL_OF_ANOTHER,
                    "This approval is of no retirement.",
                    "Run a deletion by run(approval).");
        }
        long end = System.nanoTime() + planner.limits().lockWait().toNanos();
        while (true) {
            try {
                return transactions.reshaping(connection -> carryOut(connection, approval, agreed));
            } catch (LockedException busy) {
                // Where all is one transaction nothing was done yet, and nobody waits behind it while it pauses.
                if (dialect.commitsAtDdl() || System.nanoTime() >= end) {
                    throw busy;
                }
                LockSupport.parkNanos(TURN.toNanos());
            }
        }
    }

    private RetirementOutcome carryOut(Connection connection, Approval approval, PlannedRetirement agreed)
            throws SQLException {
        RetirementTable stored = new RetirementTable(dialect);
        try {
            stored.require(connection);
            stored.lock(connection);
            lockTable(connection, agreed);
            PlannedRetirement now = planning.again(connection, agreed);
            Passage passage = gate.pass(approval, Mode.AT_ONCE, now, () -> difference(agreed, now));
            RetirementRun run = new RetirementRun(
                    connection, dialect, passage, planner.limits().lockWait());
            RetirementOutcome outcome = step(connection, stored, run, now);
            append(connection, passage, now, outcome);
            return outcome;
        } catch (SQLException failure) {
            if (dialect.isLockFailure(failure)) {
                throw LockFailures.ofDatabase(agreed.table(), failure);
            }
            throw new DatabaseException(
                    agreed.step() + " " + agreed.name(),
                    dialect.commitsAtDdl()
                            ? "What was begun was taken back as far as the database let it; 'vacancy retire' tells how it stands."
                            : "Nothing was changed; fix what it names and try again.",
                    failure);
        }
    }

    private void lockTable(Connection connection, PlannedRetirement agreed) throws SQLException {
        boolean aside = agreed.step() != RetirementStep.SET_ASIDE;
        String table = aside ? agreed.retiree().tableAside() : agreed.retiree().table();
        if (!new PresentState(dialect, connection)
                .columns(agreed.retiree(), table)
                .isEmpty()) {
            try (Statement statement = connection.createStatement()) {
                for (String sql : dialect.reshaping().locking(agreed.retiree(), aside)) {
                    statement.execute(sql);
                }
            }
        }
    }

    private RetirementOutcome step(
            Connection connection, RetirementTable stored, RetirementRun run, PlannedRetirement now)
            throws SQLException {
        List<Path> files = List.of();
        long records = now.filled();
        if (now.step() == RetirementStep.SET_ASIDE) {
            run.setAside();
        } else {
            StoredRetirement of = stored.get(connection, now.id());
            if (now.step() == RetirementStep.DROP) {
                StoredRetirement.Files written = run.drop(of);
                files = written.paths();
                records = written.records();
            } else if (planning.isDropped(connection, of)) {
                run.make(of);
                files = of.files().orElseThrow().paths();
            } else {
                run.back(of);
            }
        }
        return new RetirementOutcome(
                now.id(),
                now.step(),
                now.name(),
                now.nameAside(),
                now.by(),
                clock.instant(),
                now.dueAt(),
                records,
                files,
                run.leftOut());
    }

    /** The trail tells of it as of any run, by the number of the retirement itself when it is set aside. */
    private void append(Connection connection, Passage passage, PlannedRetirement now, RetirementOutcome outcome)
            throws SQLException {
        if (planner.rules().recording().isEmpty()) {
            return;
        }
        boolean first = now.step() == RetirementStep.SET_ASIDE;
        RunKind kind = switch (now.step()) {
            case SET_ASIDE -> RunKind.RETIREMENT;
            case DROP -> RunKind.DROP;
            case RETURN -> RunKind.RETURN;
        };
        Chain chain =
                new Chain(new TrailTables(planner.rules().recording().get().trail(), dialect));
        chain.lock(connection);
        chain.append(
                connection,
                new RunFacts(
                        first ? now.id() : RunNumber.newId(),
                        kind,
                        now.by().actor(),
                        passage.colleague(),
                        now.by().reason(),
                        TrailTables.text(outcome.at()),
                        now.table(),
                        now.name() + ", as " + now.nameAside(),
                        planner.rules().digest(),
                        Map.of(),
                        Optional.empty(),
                        first ? Optional.empty() : Optional.of(now.id())));
    }

    private static List<String> difference(PlannedRetirement agreed, PlannedRetirement now) {
        List<String> before =
                agreed.dependents().stream().map(Dependent::toString).toList();
        List<String> after = now.dependents().stream().map(Dependent::toString).toList();
        List<String> differences = new ArrayList<>();
        after.stream().filter(object -> !before.contains(object)).forEach(object -> differences.add("new: " + object));
        before.stream().filter(object -> !after.contains(object)).forEach(object -> differences.add("gone: " + object));
        if (agreed.filled() != now.filled()) {
            differences.add(now.filled() + " instead of " + agreed.filled() + " records");
        }
        return differences.isEmpty()
                ? List.of("another definition than before")
                : differences.stream().distinct().collect(Collectors.toList());
    }
}
