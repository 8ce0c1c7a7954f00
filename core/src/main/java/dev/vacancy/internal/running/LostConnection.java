package dev.vacancy.internal.running;

import java.sql.SQLException;
import java.sql.SQLNonTransientConnectionException;
import java.sql.SQLTransientConnectionException;

/** Failures after which nobody is there any more who could have answered. */
public final class LostConnection {
    private LostConnection() {}

    /**
     * Tells whether a failure is a connection's. A driver that knows several servers may have connected to the next one by then, so that the
     * connection looks well, and says so in a state of its own.
     *
     * @param failure what the driver threw
     * @return true if it may have been lost with the answer (ISO/IEC 9075-2, section 24.1: class 08), or its session was ended
     */
    public static boolean isOne(SQLException failure) {
        String state = failure.getSQLState();
        return state == null
                || state.startsWith("08")
                || state.startsWith("57P")
                || state.equals("40003")
                || failure instanceof SQLTransientConnectionException
                || failure instanceof SQLNonTransientConnectionException;
    }
}
