package dev.vacancy.internal.chunking;

import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.running.ConflictRetry;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.running.Work;

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
        return ConflictRetry.writing(transactions, dialect, "the state of the run", work);
    }
}
