package dev.vacancy.internal.trail;

import dev.vacancy.internal.dialect.Binding;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.tables.OwnTables;
import java.nio.ByteBuffer;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Predicate;

/**
 * Reads entries of the trail in portions, so that no more than one is ever held.
 *
 * @since 0.1
 */
public final class EntryReader {
    /** A portion with more content than this ends early, so that large contents aren't all held at once. */
    private static final long MOST_CHARACTERS = 4_000_000;

    private static final int FETCHED_WITH_CONTENT = 100;

    /** The steps of an erasure or a masking that tell of entries, and of the words of runs. */
    public static final int OF_ENTRIES = 1;

    /** The other one. */
    public static final int OF_RUNS = 2;

    /** The first of the steps that tell of records in which a text was masked, one for each column. */
    public static final int OF_RECORDS = 3;

    static final List<String> COLUMNS =
            OwnTables.trailEntries(Optional.empty(), "").names();

    private static final String SELECT = "select " + String.join(", ", COLUMNS) + " from ";

    private final TrailTables tables;

    /**
     * Makes a reader.
     *
     * @param tables the tables of the trail
     */
    public EntryReader(TrailTables tables) {
        this.tables = tables;
    }

    TrailTables tables() {
        return tables;
    }

    /**
     * Returns the dialect that the trail is read in.
     *
     * @return the dialect of its database
     */
    public Dialect dialect() {
        return tables.dialect();
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
        void take(List<StoredEntry> entries) throws SQLException;
    }

    /**
     * A step of a run.
     *
     * @param number its number
     * @param table the table that it changed
     * @param action what it did
     */
    public record StepOf(int number, String table, Action action) {}

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
                + tables.entries() + " where run_no = ? and step > ? order by run_no, step, place limit 1")) {
            query.setLong(1, RunNumber.of(run));
            boolean more = true;
            while (more) {
                query.setInt(
                        2, steps.isEmpty() ? 0 : steps.get(steps.size() - 1).number());
                try (ResultSet row = query.executeQuery()) {
                    more = row.next();
                    if (more) {
                        steps.add(new StepOf(row.getInt(1), row.getString(2), Action.of(row.getString(3))));
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
        PortionSize stride = new PortionSize(dialect().picturedAtOnce());
        List<StoredEntry> entries = after(connection, run, step, 0, stride.rows());
        while (!entries.isEmpty()) {
            portions.take(entries);
            stride.after(entries);
            long last = entries.get(entries.size() - 1).place();
            entries = after(connection, run, step, last, stride.rows());
        }
    }

    /**
     * Reads all entries of a run, step by step.
     *
     * @param connection an open connection; it may be used for other statements between two portions
     * @param run the run's number
     * @param portions takes them
     * @throws SQLException when the database doesn't answer
     */
    public void eachOf(Connection connection, long run, Portions portions) throws SQLException {
        String order = " order by run_no, step, place limit ";
        PortionSize stride = new PortionSize(dialect().picturedAtOnce());
        List<StoredEntry> entries = portion(connection, "run_no = ?" + order + stride.rows(), run);
        while (!entries.isEmpty()) {
            portions.take(entries);
            stride.after(entries);
            StoredEntry last = entries.get(entries.size() - 1);
            entries = portion(
                    connection,
                    "run_no = ? and step = ? and place > ?" + order + stride.rows(),
                    run,
                    last.step(),
                    last.place());
            if (entries.isEmpty()) {
                entries = portion(connection, "run_no = ? and step > ?" + order + stride.rows(), run, last.step());
            }
        }
    }

    /**
     * Reads the next few entries of one step of a run. Where they are large they may be fewer than asked for.
     *
     * @param connection an open connection
     * @param run the run
     * @param step the step's number
     * @param place the number of the entry before them, or 0
     * @param most how many at most, 1 or more
     * @return the entries, in the order of their numbers; none if there are no more
     * @throws SQLException when the database doesn't answer
     */
    public List<StoredEntry> after(Connection connection, UUID run, int step, long place, long most)
            throws SQLException {
        return portion(
                connection,
                "run_no = ? and step = ? and place > ? order by run_no, step, place limit " + most,
                RunNumber.of(run),
                step,
                place);
    }

    /**
     * Counts the next entries of one step of a run.
     *
     * @param connection an open connection
     * @param run the run
     * @param step the step's number
     * @param place the number of the entry before them, or 0
     * @param most how many at most, 1 or more
     * @return what they are; empty if there are no more
     * @throws SQLException when the database doesn't answer
     */
    public Optional<Stretch> stretch(Connection connection, UUID run, int step, long place, long most)
            throws SQLException {
        String counted = "select min(place), max(place), count(*), sum(held), sum(touched) from (select place,"
                + " case when content is null then 0 else 1 end as held,"
                + " case when erased_by is null then 0 else 1 end as touched from " + tables.entries()
                + " where run_no = ? and step = ? and place > ? order by run_no, step, place limit " + most + ") as e";
        long number = RunNumber.of(run);
        return OwnRows.read(connection, counted, row -> stretch(row, number, step), number, step, place).stream()
                .filter(stretch -> stretch.count() > 0)
                .findFirst();
    }

    private static Stretch stretch(ResultSet row, long run, int step) throws SQLException {
        Reference first = new Reference(run, step, row.getLong(1));
        return new Stretch(first, row.getLong(2), row.getLong(3), row.getLong(4), row.getLong(5));
    }

    /** As many of them as there is room for, and one at least. */
    private List<StoredEntry> portion(Connection connection, String where, Object... values) throws SQLException {
        List<StoredEntry> portion = new ArrayList<>();
        try (PreparedStatement query = connection.prepareStatement(SELECT + tables.entries() + " where " + where)) {
            for (int i = 0; i < values.length; i++) {
                query.setObject(i + 1, values[i]);
            }
            query.setFetchSize(FETCHED_WITH_CONTENT);
            try (ResultSet row = query.executeQuery()) {
                long characters = 0;
                while (characters < MOST_CHARACTERS && row.next()) {
                    StoredEntry entry = entry(row);
                    portion.add(entry);
                    characters += entry.characters();
                }
            }
        }
        return portion;
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
    public List<StoredEntry> read(Connection connection, String where, Object... values) throws SQLException {
        return OwnRows.read(connection, SELECT + tables.entries() + " where " + where, EntryReader::entry, values);
    }

    static StoredEntry entry(ResultSet row) throws SQLException {
        long eraser = row.getLong(12);
        Long erasedBy = row.wasNull() ? null : eraser;
        return new StoredEntry(
                new Reference(row.getLong(1), row.getInt(2), row.getLong(3)),
                row.getString(4),
                row.getString(5),
                row.getString(6),
                row.getString(7),
                row.getString(8),
                about(row),
                erasedBy,
                ByteBuffer.wrap(row.getBytes(13)).asReadOnlyBuffer(),
                ByteBuffer.wrap(row.getBytes(14)).asReadOnlyBuffer());
    }

    private static Reference about(ResultSet row) throws SQLException {
        int missing = 0;
        for (int column = 9; column <= 11; column++) {
            row.getLong(column);
            missing += row.wasNull() ? 1 : 0;
        }
        if (missing == 3) {
            return null;
        }
        // Half of a reference was written by somebody else.
        return missing == 0 ? new Reference(row.getLong(9), row.getInt(10), row.getLong(11)) : new Reference(0, -1, -1);
    }

    /**
     * Reads one entry.
     *
     * @param connection an open connection
     * @param reference which one
     * @return the entry; empty if it isn't there any more
     * @throws SQLException when the database doesn't answer
     */
    public Optional<StoredEntry> at(Connection connection, Reference reference) throws SQLException {
        return read(
                        connection,
                        "run_no = ? and step = ? and place = ?",
                        reference.run(),
                        reference.step(),
                        reference.place())
                .stream()
                .findFirst();
    }

    /**
     * Reads all entries of a table that say anything of its records, and keeps some.
     *
     * @param connection a connection in a transaction
     * @param table the name of the table
     * @param wanted which of them
     * @return those
     * @throws SQLException when the database doesn't answer
     */
    public List<StoredEntry> ofTable(Connection connection, String table, Predicate<StoredEntry> wanted)
            throws SQLException {
        List<StoredEntry> found = new ArrayList<>();
        try (PreparedStatement query = connection.prepareStatement(SELECT + tables.entries()
                + " where table_name = ? and action not in ('erased', 'masked')"
                + " and (content is not null or altered is not null)")) {
            query.setString(1, table);
            query.setFetchSize(FETCHED_WITH_CONTENT);
            try (ResultSet row = query.executeQuery()) {
                while (row.next()) {
                    StoredEntry entry = entry(row);
                    if (wanted.test(entry)) {
                        found.add(entry);
                    }
                }
            }
        }
        return found;
    }

    /**
     * Writes what an erasure or a masking has left of an entry.
     *
     * @param connection a connection in a transaction that writes
     * @param left the entry without what goes
     * @throws SQLException when the database refuses
     */
    public void replace(Connection connection, StoredEntry left) throws SQLException {
        try (PreparedStatement update = connection.prepareStatement("update " + tables.entries()
                + " set record_key = ?, content = ?, altered = ?, seal = ?, erased_by = ?"
                + " where run_no = ? and step = ? and place = ?")) {
            update.setString(1, left.key());
            update.setString(2, left.content());
            update.setString(3, left.altered());
            Binding.of(left.seal()).bind(update, 4);
            update.setLong(5, left.erasedBy());
            update.setLong(6, left.run());
            update.setInt(7, left.step());
            update.setLong(8, left.place());
            update.executeUpdate();
        }
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
            try (PreparedStatement delete = connection.prepareStatement("delete from " + table + " where run_no = ?")) {
                delete.setLong(1, RunNumber.of(run));
                delete.executeUpdate();
            }
        }
    }
}
