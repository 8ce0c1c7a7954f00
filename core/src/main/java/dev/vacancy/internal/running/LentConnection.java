package dev.vacancy.internal.running;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.Proxy;
import java.sql.Connection;
import java.util.Set;

/** A run's connection as whoever is called back inside the run gets it: to read and write with, and not to end the transaction. */
public final class LentConnection {
    private static final Set<String> REFUSED = Set.of(
            "commit",
            "rollback",
            "close",
            "abort",
            "setAutoCommit",
            "setTransactionIsolation",
            "setReadOnly",
            "setSchema",
            "setCatalog",
            "unwrap");

    private LentConnection() {}

    /**
     * Lends a connection.
     *
     * @param connection the run's
     * @return the same, of which the transaction can't be ended
     */
    public static Connection of(Connection connection) {
        return (Connection) Proxy.newProxyInstance(
                LentConnection.class.getClassLoader(),
                new Class<?>[] {Connection.class},
                (proxy, method, arguments) -> {
                    boolean toSavepoint = method.getName().equals("rollback") && arguments != null;
                    if (REFUSED.contains(method.getName()) && !toSavepoint) {
                        throw new InvalidRequestException(
                                FailureCode.FOREIGN_TRANSACTION,
                                "This connection is the run's, which ends its transaction itself: " + method.getName()
                                        + "() isn't for whoever is called back.",
                                "Read and write with it, and leave the rest to the run; throw an exception to take all of"
                                        + " it back.");
                    }
                    try {
                        return method.invoke(connection, arguments);
                    } catch (InvocationTargetException failure) {
                        throw failure.getCause();
                    }
                });
    }
}
