package dev.vacancy.dialect;

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
 * @since 0.1
 */
public record Setting(String query, String command, long wanted) {
    /**
     * Sets the wanted value.
     *
     * @param connection a connection outside any transaction
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
        if (before != wanted) {
            try (PreparedStatement statement = connection.prepareStatement(command + wanted)) {
                statement.execute();
            }
        }
        return new Setting(query, command, before);
    }
}
