package dev.vacancy.internal.dialect;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;

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
     * Sets the wanted value.
     *
     * @param connection an open connection
     * @return the same setting with the value that there was before, to put it back
     * @throws SQLException when the database refuses
     */
    public Setting apply(Connection connection) throws SQLException {
        long before;
        try (PreparedStatement statement = connection.prepareStatement(query);
                ResultSet row = statement.executeQuery()) {
            row.next();
            before = row.getLong(1);
        }
        boolean fine = before == wanted || (atMost && before > 0 && before < wanted);
        if (!fine) {
            try (PreparedStatement statement = connection.prepareStatement(command + wanted)) {
                statement.execute();
            }
        }
        return new Setting(query, command, before, false);
    }
}
