package dev.vacancy.internal.running;

import dev.vacancy.FailureCode;
import dev.vacancy.LockedException;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.failure.LockFailures;
import java.sql.SQLException;
import java.time.Duration;
import java.util.concurrent.TimeUnit;
import java.util.function.Supplier;

/**
 * Conflicts that the database ends by ending one of two transactions: where that is one of ours and nothing else was in it, the same is
 * tried again.
 *
 * @since 0.1
 */
public final class ConflictRetry {
    private static final int MOST_TRIES = 10;
    private static final Duration TURN = Duration.ofMillis(50);

    private ConflictRetry() {}

    /**
     * Tries, and tries again.
     *
     * @param <T> what comes of it
     * @param transactions where it is tried; inside the application's own transaction it is tried once
     * @param again whether it can be tried a second time
     * @param attempt one transaction
     * @return what came of it
     * @throws LockedException when it was in vain
     */
    public static <T> T tryingAgain(Transactions transactions, boolean again, Supplier<T> attempt) {
        for (int tries = 1; ; tries++) {
            try {
                return attempt.get();
            } catch (LockedException conflict) {
                boolean last = tries == MOST_TRIES || Thread.currentThread().isInterrupted() || transactions.isJoined();
                if (!again || last || conflict.code() != FailureCode.TRY_AGAIN) {
                    throw conflict;
                }
                pause(TURN.multipliedBy(tries));
            }
        }
    }

    /**
     * Writes what others write as well: whoever the database chose to end then tries again.
     *
     * @param <T> what comes of it
     * @param transactions where to write
     * @param dialect the dialect of the database
     * @param what what is written, such as {@code the state of the run}
     * @param work one transaction
     * @return what came of it
     * @throws LockedException when it was in vain
     */
    public static <T> T writing(Transactions transactions, Dialect dialect, String what, Work<T> work) {
        return tryingAgain(
                transactions,
                true,
                () -> transactions.writing(connection -> {
                    try {
                        return work.on(connection);
                    } catch (SQLException failure) {
                        if (dialect.isLockFailure(failure)) {
                            throw LockFailures.ofConflict(what, failure);
                        }
                        throw failure;
                    }
                }));
    }

    private static void pause(Duration time) {
        try {
            TimeUnit.MILLISECONDS.sleep(time.toMillis());
        } catch (InterruptedException end) {
            Thread.currentThread().interrupt();
        }
    }
}
