package dev.vacancy;

import java.sql.SQLException;

/**
 * The database has ended the whole of the application's transaction, a deadlock most often: what the application had written in it before is
 * gone as well, and nothing can go on in it.
 *
 * @since 0.1
 */
public final class TransactionEndedException extends VacancyException {
    private static final long serialVersionUID = 1L;

    /**
     * Says that it has ended.
     *
     * @param problem what has ended it
     * @param cause what the driver said, or null
     */
    public TransactionEndedException(String problem, SQLException cause) {
        super(
                FailureCode.TRANSACTION_ENDED,
                problem,
                "Roll it back and do all of it again, your own statements too; nothing else is done in it here.",
                cause);
    }
}
