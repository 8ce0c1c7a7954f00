package dev.vacancy.internal.chunking;

import dev.vacancy.LockedException;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.running.ConflictRetry;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.running.Work;
import java.sql.SQLException;

/** Writes the state of runs. Workers can get in each other's way; whoever the database chose to end then tries again. */
final class StateTransactions {
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
        return ConflictRetry.tryingAgain(
                transactions,
                true,
                () -> transactions.writing(connection -> {
                    try {
                        return work.on(connection);
                    } catch (SQLException failure) {
                        if (dialect.isLockFailure(failure)) {
                            throw LockedException.ofConflict("the state of the run", failure);
                        }
                        throw failure;
                    }
                }));
    }
}
