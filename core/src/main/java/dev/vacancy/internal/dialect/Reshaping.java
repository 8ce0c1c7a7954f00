package dev.vacancy.internal.dialect;

import java.sql.Connection;
import java.sql.SQLException;
import java.time.Duration;
import java.util.List;
import java.util.Optional;

/**
 * How a database tells what stands on a column or a table, and how both are set aside, dropped and made again.
 *
 * @since 0.1
 */
public interface Reshaping {
    /**
     * Looks at what stands on a column or a table, and works out how it goes and comes back.
     *
     * @param connection an open connection
     * @param retiree the column or the table
     * @return all of it
     * @throws SQLException when the database doesn't answer
     */
    Shape shape(Connection connection, Retiree retiree) throws SQLException;

    /**
     * Tells whether anything uses it, as far as the database keeps figures.
     *
     * @param connection an open connection
     * @param retiree the column or the table
     * @return sentences; one that says so where it keeps none
     * @throws SQLException when the database doesn't answer
     */
    List<String> use(Connection connection, Retiree retiree) throws SQLException;

    /**
     * Returns what some tables are by now, where coming back makes them anew as they were before, so that no change of them since gets lost.
     *
     * @param connection an open connection
     * @param tables the tables, as stored
     * @return the text; empty where nothing is replaced
     * @throws SQLException when the database doesn't answer
     */
    default Optional<String> text(Connection connection, List<String> tables) throws SQLException {
        return Optional.empty();
    }

    /**
     * Looks for records that came or went while something was set aside, and don't meet what stands on it again.
     *
     * @param connection an open connection
     * @param retiree what has come back
     * @return sentences; none where the database refuses what isn't met
     * @throws SQLException when the database doesn't answer
     */
    default List<String> violations(Connection connection, Retiree retiree) throws SQLException {
        return List.of();
    }

    /**
     * Finds the triggers that would take it for a change of a record when a column gets its values back.
     *
     * @param connection an open connection
     * @param schema the schema of the table, as stored
     * @param table the name of the table, as stored
     * @return what keeps each still, and has it see changes again; statements only where that is part of the transaction
     * @throws SQLException when the database doesn't answer
     */
    List<SchemaObject> watching(Connection connection, String schema, String table) throws SQLException;

    /**
     * Returns what has to be set on a connection so that no statement waits for a lock, and nobody behind it.
     *
     * @param longestLockWait how long is waited where waiting keeps nobody else waiting
     * @return the settings, put back afterwards
     */
    List<Setting> settings(Duration longestLockWait);

    /**
     * Locks a table against everybody else until the transaction ends, or refuses at once.
     *
     * @param retiree what retires
     * @param aside whether it is set aside already
     * @return statements; none where each change of a table locks it by itself
     */
    default List<String> locking(Retiree retiree, boolean aside) {
        return List.of();
    }
}
