package dev.vacancy.internal.restoring;

import dev.vacancy.history.Mention;
import dev.vacancy.internal.trail.SoughtText;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.Collection;
import java.util.List;
import java.util.UUID;
import java.util.function.BiPredicate;

/**
 * What people wrote into tables of ours beside the trail, which is to be forgotten with what the trail says.
 *
 * @since 0.1
 */
public interface TextElsewhere {
    /**
     * What was found.
     *
     * @param mentions where a text stands
     * @param open the bulk runs among them that haven't ended
     */
    record Found(List<Mention> mentions, List<UUID> open) {
        /** Keeps its own copies. */
        public Found {
            mentions = List.copyOf(mentions);
            open = List.copyOf(open);
        }
    }

    /**
     * Tells where a text stands.
     *
     * @param connection an open connection
     * @param sought the text
     * @return the places
     * @throws SQLException when the database doesn't answer
     */
    Found look(Connection connection, SoughtText sought) throws SQLException;

    /**
     * Tells which lines are of some records.
     *
     * @param connection an open connection
     * @param records tells whether a table and a key, as text, are of such a record
     * @return the lines
     * @throws SQLException when the database doesn't answer
     */
    Found list(Connection connection, BiPredicate<String, String> records) throws SQLException;

    /**
     * Removes the lines of some records, wherever they stand.
     *
     * @param connection a connection in a transaction that writes
     * @param records tells whether a table and a key, as text, are of such a record
     * @throws SQLException when the database refuses
     */
    void remove(Connection connection, BiPredicate<String, String> records) throws SQLException;

    /**
     * Puts asterisks where a text stands.
     *
     * @param connection a connection in a transaction that writes
     * @param sought the text
     * @throws SQLException when the database refuses
     */
    void mask(Connection connection, SoughtText sought) throws SQLException;

    /**
     * Erases what the ended ones among some bulk runs say of records: what was selected, and the keys.
     *
     * @param connection a connection in a transaction that writes
     * @param runs the bulk runs
     * @param records tells whether a table and a key, as text, are of such a record
     * @throws SQLException when the database refuses
     */
    void erase(Connection connection, Collection<UUID> runs, BiPredicate<String, String> records) throws SQLException;
}
