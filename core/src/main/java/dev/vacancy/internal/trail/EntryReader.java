package dev.vacancy.internal.trail;

import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;

/**
 * Reads entries of the trail in portions, so that no more than one is ever held.
 *
 * @since 0.1
 */
public final class EntryReader {
    private static final int PORTION = 200;
    private static final String GONE = "'deleted', 'purged', 'marked'";
    private static final String COLUMNS = "run_id, step, place, action, table_name, record_key, content, altered, salt,"
            + " erased_by, content_digest, digest";

    private final TrailTables tables;

    /**
     * Makes a reader.
     *
     * @param tables the tables of the trail
     */
    public EntryReader(TrailTables tables) {
        this.tables = tables;
    }

    /**
     * Returns the dialect that the trail is read in.
     *
     * @return the dialect of its database
     */
    public Dialect dialect() {
        return tables.dialect();
    }

    /**
     * An entry as it is stored.
     *
     * @param run the run's id
     * @param step the run's step
     * @param place its number in the step
     * @param action what happened
     * @param table the record's table
     * @param key the record's key
     * @param content the record before, as JSON; null once erased
     * @param altered what columns were set to, as JSON, or null
     * @param salt what the content was digested with; null once erased
     * @param erasedBy the run that erased the content, or null
     * @param contentDigest the digest of the content
     * @param digest the entry's own
     */
    public record Stored(
            String run,
            int step,
            long place,
            String action,
            String table,
            String key,
            String content,
            String altered,
            String salt,
            String erasedBy,
            String contentDigest,
            String digest) {
        /**
         * Returns the record before.
         *
         * @return its values; empty once erased
         */
        public Optional<Map<String, Object>> image() {
            return Optional.ofNullable(content).map(Image::read);
        }

        /**
         * Returns what columns were set to.
         *
         * @return their values; empty if the record went
         */
        public Optional<Map<String, Object>> alteration() {
            return Optional.ofNullable(altered).map(Image::read);
        }

        boolean isContentIntact() {
            return Chain.sha256(salt + "\n" + content).equals(contentDigest);
        }

        boolean isIntact() {
            String facts = run + "\n" + step + "\n" + place + "\n" + action + "\n" + table + "\n" + key + "\n"
                    + (altered == null ? "" : altered) + "\n" + contentDigest;
            return Chain.sha256(facts).equals(digest);
        }
    }

    /** Takes entries in portions. */
    @FunctionalInterface
    public interface Portions {
        /**
         * Takes the next few entries.
         *
         * @param entries at least one, in the order of their numbers
         * @throws SQLException when the database refuses what is done with them
         */
        void take(List<Stored> entries) throws SQLException;
    }

    /**
     * A step of a run.
     *
     * @param number its number
     * @param table the table that it changed
     * @param action what it did
     */
    public record StepOf(int number, String table, String action) {
        /**
         * Tells whether its records went.
         *
         * @return false if they stayed, changed
         */
        public boolean isDeletion() {
            return action.equals("deleted") || action.equals("purged");
        }
    }

    /**
     * Tells which steps a run has entries of.
     *
     * @param connection an open connection
     * @param run the run
     * @return the steps, in order
     * @throws SQLException when the database doesn't answer
     */
    public List<StepOf> steps(Connection connection, UUID run) throws SQLException {
        List<StepOf> steps = new ArrayList<>();
        // From step to step by the index: to group all of its entries, a database would read them all.
        try (PreparedStatement query = connection.prepareStatement("select step, table_name, action from "
                + tables.entries() + " where run_id = ? and step > ? order by run_id, step, place limit 1")) {
            query.setString(1, run.toString());
            boolean more = true;
            while (more) {
                query.setInt(
                        2, steps.isEmpty() ? 0 : steps.get(steps.size() - 1).number());
                try (ResultSet row = query.executeQuery()) {
                    more = row.next();
                    if (more) {
                        steps.add(new StepOf(row.getInt(1), row.getString(2), row.getString(3)));
                    }
                }
            }
        }
        return steps;
    }

    /**
     * Reads the entries of one step of a run.
     *
     * @param connection an open connection; it may be used for other statements between two portions
     * @param run the run
     * @param step the step's number
     * @param portions takes them
     * @throws SQLException when the database doesn't answer
     */
    public void each(Connection connection, UUID run, int step, Portions portions) throws SQLException {
        List<Stored> entries = after(connection, run, step, 0);
        while (!entries.isEmpty()) {
            portions.take(entries);
            entries =
                    after(connection, run, step, entries.get(entries.size() - 1).place());
        }
    }

    /**
     * Reads the next few entries of one step of a run.
     *
     * @param connection an open connection
     * @param run the run
     * @param step the step's number
     * @param place the number of the entry before them, or 0
     * @return the entries, in the order of their numbers; none if there are no more
     * @throws SQLException when the database doesn't answer
     */
    public List<Stored> after(Connection connection, UUID run, int step, long place) throws SQLException {
        return read(
                connection,
                "run_id = ? and step = ? and place > ? order by run_id, step, place limit " + PORTION,
                run.toString(),
                step,
                place);
    }

    /**
     * Reads entries.
     *
     * @param connection an open connection
     * @param where what stands behind WHERE
     * @param values one for each question mark
     * @return the entries
     * @throws SQLException when the database doesn't answer
     */
    public List<Stored> read(Connection connection, String where, Object... values) throws SQLException {
        List<Stored> entries = new ArrayList<>();
        try (PreparedStatement query =
                connection.prepareStatement("select " + COLUMNS + " from " + tables.entries() + " where " + where)) {
            for (int i = 0; i < values.length; i++) {
                query.setObject(i + 1, values[i]);
            }
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    entries.add(new Stored(
                            row.getString(1),
                            row.getInt(2),
                            row.getLong(3),
                            row.getString(4),
                            row.getString(5),
                            row.getString(6),
                            row.getString(7),
                            row.getString(8),
                            row.getString(9),
                            row.getString(10),
                            row.getString(11),
                            row.getString(12)));
                }
            }
        }
        return entries;
    }

    /**
     * Counts the entries of a record that have their content.
     *
     * @param connection an open connection
     * @param table the record's table
     * @param key its key
     * @return how many
     * @throws SQLException when the database doesn't answer
     */
    public long whole(Connection connection, String table, String key) throws SQLException {
        try (PreparedStatement query = connection.prepareStatement("select count(*) from " + tables.entries()
                + " where table_name = ? and record_key = ? and content is not null")) {
            query.setString(1, table);
            query.setString(2, key);
            try (ResultSet row = query.executeQuery()) {
                row.next();
                return row.getLong(1);
            }
        }
    }

    /**
     * Takes the content out of all entries of a record.
     *
     * @param connection a connection in a transaction that writes
     * @param table the record's table
     * @param key its key
     * @param by the run that erases
     * @return how many entries lost their content
     * @throws SQLException when the database refuses
     */
    public long erase(Connection connection, String table, String key, UUID by) throws SQLException {
        try (PreparedStatement update = connection.prepareStatement(
                "update " + tables.entries() + " set content = null, salt = null, erased_by = ?"
                        + " where table_name = ? and record_key = ? and content is not null")) {
            update.setString(1, by.toString());
            update.setString(2, table);
            update.setString(3, key);
            return update.executeLargeUpdate();
        }
    }

    /**
     * Tells whether a run has written down that a record went.
     *
     * @param connection an open connection
     * @param runs the runs
     * @param table the record's table
     * @param keys the records' keys
     * @return those of the keys that it has
     * @throws SQLException when the database doesn't answer
     */
    public List<String> gone(Connection connection, List<UUID> runs, String table, List<String> keys)
            throws SQLException {
        return known(connection, runs, table, keys, GONE, false);
    }

    /**
     * Tells whether a run has written down that a record went, and what it held.
     *
     * @param connection an open connection
     * @param runs the runs
     * @param table the record's table
     * @param keys the records' keys
     * @return those of the keys whose records can come back
     * @throws SQLException when the database doesn't answer
     */
    public List<String> kept(Connection connection, List<UUID> runs, String table, List<String> keys)
            throws SQLException {
        return known(connection, runs, table, keys, GONE, true);
    }

    /**
     * Finds out which records some runs have brought back.
     *
     * @param connection a connection
     * @param runs the restores
     * @param table the records' table
     * @param keys their keys, at least one
     * @return those of the keys that the runs have brought back
     * @throws SQLException when the database doesn't answer
     */
    public List<String> restored(Connection connection, List<UUID> runs, String table, List<String> keys)
            throws SQLException {
        return runs.isEmpty() ? List.of() : known(connection, runs, table, keys, "'restored'", false);
    }

    private List<String> known(
            Connection connection, List<UUID> runs, String table, List<String> keys, String actions, boolean whole)
            throws SQLException {
        List<String> wanted = runs.stream().map(UUID::toString).toList();
        List<String> found = new ArrayList<>();
        Dialect dialect = tables.dialect();
        String alias = Statements.alias();
        // Which run it was is looked at here: by the run, a database would read all of its entries.
        Fragment condition = Fragment.allOf(List.of(
                Fragment.of(alias + ".table_name = ?", Binding.of(table)),
                Fragment.of(alias + ".action in (" + actions + ")"
                        + (whole ? " and " + alias + ".content is not null" : "")),
                dialect.anyOf(alias + ".record_key", keys)));
        Fragment from = dialect.from(tables.entries(), alias, List.of(), List.of(condition));
        Fragment asked = Statements.select(List.of(alias + ".run_id", alias + ".record_key"), from);
        try (PreparedStatement query = asked.prepare(connection)) {
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    if (wanted.contains(row.getString(1))) {
                        found.add(row.getString(2));
                    }
                }
            }
        }
        return found;
    }

    /**
     * Removes the entries of a run.
     *
     * @param connection a connection in a transaction that writes
     * @param run the run
     * @throws SQLException when the database refuses
     */
    public void remove(Connection connection, UUID run) throws SQLException {
        for (String table : List.of(tables.entries(), tables.runs())) {
            try (PreparedStatement delete = connection.prepareStatement("delete from " + table + " where run_id = ?")) {
                delete.setString(1, run.toString());
                delete.executeUpdate();
            }
        }
    }
}
