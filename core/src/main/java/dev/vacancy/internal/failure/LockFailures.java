package dev.vacancy.internal.failure;

import dev.vacancy.FailureCode;
import dev.vacancy.LockedException;
import java.sql.SQLException;
import java.util.List;

/**
 * Says who was in the way of a transaction.
 *
 * @since 0.1
 */
public final class LockFailures {
    private static final int NAMED = 5;

    private LockFailures() {}

    /**
     * Says which records are held.
     *
     * @param table the table
     * @param records the keys of the held records as text; empty if that isn't known
     * @param cause what the driver said
     * @return the failure
     */
    public static LockedException of(String table, List<String> records, SQLException cause) {
        String named = records.isEmpty()
                ? "records of " + table
                : table + " " + String.join(", ", records.subList(0, Math.min(NAMED, records.size())))
                        + (records.size() > NAMED ? " and " + (records.size() - NAMED) + " more" : "");
        return new LockedException(
                FailureCode.LOCKED,
                "Another transaction is changing " + named + ", which this deletion needs.",
                "Nothing was changed; try again when it is done, or join it if it is the application's own.",
                table,
                records,
                cause);
    }

    /**
     * Says that the database as a whole is held.
     *
     * @param table the table that was to be changed
     * @param cause what the driver said
     * @return the failure
     */
    public static LockedException ofDatabase(String table, SQLException cause) {
        return new LockedException(
                FailureCode.LOCKED,
                "Another transaction is writing to this database.",
                "Nothing was changed; try again when it is done, or join it if it is the application's own.",
                table,
                List.of(),
                cause);
    }

    /**
     * Says that this transaction and another one were in each other's way, so that the database ended this one.
     *
     * @param table the table that was to be read or changed
     * @param cause what the driver said
     * @return the failure
     */
    public static LockedException ofConflict(String table, Exception cause) {
        return tryAgain(
                "Another transaction got in the way of this one at " + table + ", and the database ended this one.",
                "Nothing was changed; try again.",
                table,
                cause);
    }

    /**
     * Says that records were put on hold while a run was under way that may have taken them.
     *
     * @param table the name of their table
     * @return the exception
     */
    public static LockedException ofHold(String table) {
        return tryAgain(
                "Somebody has put records of " + table + " on hold while this was under way.",
                "Nothing was changed; try again, and it is told whether they are among them.",
                table,
                null);
    }

    /**
     * Says that a run was under way when somebody wanted to hold records, and that it has taken some of them, or may still do so.
     *
     * @param table the name of their table
     * @return the exception
     */
    public static LockedException ofRun(String table) {
        return tryAgain(
                "A run that was under way has taken some of the records of " + table + ", or is still at it.",
                "Nothing is held; try again once it is done.",
                table,
                null);
    }

    private static LockedException tryAgain(String problem, String remedy, String table, Exception cause) {
        return new LockedException(FailureCode.TRY_AGAIN, problem, remedy, table, List.of(), cause);
    }
}
