package dev.vacancy.internal.chunking;

import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.LockedException;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.running.Work;
import java.sql.SQLException;
import java.time.Duration;

/** Writes the state of runs. Workers can get in each other's way; whoever the database chose to end then tries again. */
final class StateTransactions {
    private static final int MOST_TRIES = 10;
    private static final Duration TURN = Duration.ofMillis(50);

    private final Transactions transactions;
    private final Dialect dialect;

    StateTransactions(Transactions transactions, Dialect dialect) {
        this.transactions = transactions;
        this.dialect = dialect;
    }

    /** Where it is read. */
    Transactions transactions() {
        return transactions;
    }

    <T> T write(Work<T> work) {
        for (int tries = 1; ; tries++) {
            try {
                return transactions.writing(connection -> {
                    try {
                        return work.on(connection);
                    } catch (SQLException failure) {
                        if (dialect.isLockFailure(failure)) {
                            throw LockedException.ofConflict("the state of the run", failure);
                        }
                        throw failure;
                    }
                });
            } catch (LockedException conflict) {
                if (conflict.code() != FailureCode.TRY_AGAIN || tries == MOST_TRIES) {
                    throw conflict;
                }
                ChunkedRuns.sleep(TURN.multipliedBy(tries));
            }
        }
    }
}
