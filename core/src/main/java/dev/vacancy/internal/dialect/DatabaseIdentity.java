package dev.vacancy.internal.dialect;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.UUID;

/**
 * Where a connection leads.
 *
 * @param database which database it is, not which one it looks like: a copy of it is another
 * @param schema the schema that a statement means when it names none, as stored; empty where there are no schemas
 * @since 0.1
 */
public record DatabaseIdentity(String database, String schema) {
    /** What is held in the memory of this process is in no other. */
    static final String PROCESS = UUID.randomUUID().toString();

    /**
     * Asks a connection. Each run does, so it is a statement that the driver can keep prepared.
     *
     * @param connection an open connection
     * @param query gives one row: the database, and the schema
     * @return what it says
     * @throws SQLException when the database doesn't answer
     */
    static DatabaseIdentity ask(Connection connection, String query) throws SQLException {
        try (PreparedStatement statement = connection.prepareStatement(query);
                ResultSet row = statement.executeQuery()) {
            row.next();
            return new DatabaseIdentity(row.getString(1), row.getString(2) == null ? "" : row.getString(2));
        }
    }
}
