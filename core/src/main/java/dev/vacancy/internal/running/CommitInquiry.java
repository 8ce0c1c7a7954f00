package dev.vacancy.internal.running;

import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.VacancyException;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.failure.UnknownOutcomes;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Chain;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Optional;
import java.util.UUID;

/**
 * Finds out what came of a run whose commit wasn't answered, where something tells.
 *
 * @since 0.1
 */
public final class CommitInquiry {
    private final Rules rules;
    private final Dialect dialect;
    private final Transactions transactions;

    /**
     * Prepares to look.
     *
     * @param rules say whether there is a trail that tells
     * @param dialect the dialect of the database
     * @param transactions where to look
     */
    public CommitInquiry(Rules rules, Dialect dialect, Transactions transactions) {
        this.rules = rules;
        this.dialect = dialect;
        this.transactions = transactions;
    }

    /**
     * Returns if the run has been committed.
     *
     * @param run its id
     * @param participant who may have written in its transaction
     * @param unknown how the answer was lost
     * @throws DatabaseException when it has been taken back
     * @throws OutcomeUnknownException when nothing tells
     */
    public void settle(UUID run, RunParticipant participant, OutcomeUnknownException unknown) {
        Optional<Boolean> committed;
        try {
            // Another server may hold what is looked for until it commits, and one of the two has to begin anew.
            committed = ConflictRetry.writing(
                    transactions, dialect, "what came of run " + run, connection -> look(run, participant, connection));
        } catch (VacancyException unreachable) {
            OutcomeUnknownException still = UnknownOutcomes.of(run, unknown);
            still.addSuppressed(unreachable);
            throw still;
        }
        if (committed.isEmpty()) {
            throw UnknownOutcomes.of(run, unknown);
        }
        if (!committed.get()) {
            throw new DatabaseException(
                    FailureCode.COMMIT_REFUSED,
                    "commit run " + run,
                    "It was looked up on another connection: nothing was changed. Run it again.",
                    (SQLException) unknown.getCause());
        }
    }

    /**
     * The run's transaction holds the lock of the trail until it has ended, so whoever gets that lock sees what came of it; where another server
     * knows nothing of the lock, whoever takes the place that it would have taken keeps it from committing.
     */
    private Optional<Boolean> look(UUID run, RunParticipant participant, Connection connection) throws SQLException {
        if (rules.recording().isEmpty()) {
            return participant.happened(connection);
        }
        TrailTables tables = new TrailTables(rules.recording().get().trail(), dialect);
        Chain chain = new Chain(tables);
        tables.beginWriting(connection);
        chain.lock(connection);
        boolean committed =
                !tables.runs(connection, "run_id = ?", run.toString()).isEmpty();
        if (!committed && dialect.locksAreLocal()) {
            chain.fence(connection, run);
        }
        return Optional.of(committed);
    }
}
