package dev.vacancy.internal.dialect;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.List;
import java.util.Optional;

/**
 * Something about a connection that a transaction needs to be another way, and that is put back afterwards.
 *
 * @param query asks for the present value, a whole number
 * @param command sets the value that is written behind it
 * @param wanted the value for the transaction
 * @param atMost whether a lower value, other than 0, is left as it is
 * @since 0.1
 */
public record Setting(String query, String command, long wanted, boolean atMost) {
    /**
     * Sets the wanted value, where it isn't that already.
     *
     * @param connection an open connection
     * @return the command that puts back what there was before; empty where nothing was set
     * @throws SQLException when the database refuses
     */
    public Optional<String> apply(Connection connection) throws SQLException {
        long before;
        try (PreparedStatement statement = connection.prepareStatement(query);
                ResultSet row = statement.executeQuery()) {
            row.next();
            before = row.getLong(1);
        }
        if (before == wanted || (atMost && before > 0 && before < wanted)) {
            return Optional.empty();
        }
        execute(command + wanted, connection);
        return Optional.of(command + before);
    }

    /**
     * Puts back what there was before.
     *
     * @param commands what setting values has returned
     * @param connection an open connection
     * @throws SQLException when the database refuses
     */
    public static void putBack(List<String> commands, Connection connection) throws SQLException {
        for (String command : commands) {
            execute(command, connection);
        }
    }

    private static void execute(String command, Connection connection) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(command)) {
            statement.execute();
        }
    }
}
