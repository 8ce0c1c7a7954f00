package dev.vacancy.failure;

import java.sql.SQLException;
import java.util.List;

/**
 * Someone else holds a record that the run needs, and did not let go of it within the time allowed. Nothing was
 * changed; the same approval can be run again.
 *
 * @since 0.1
 */
public final class LockedException extends VacancyException {
    private static final long serialVersionUID = 1L;
    private static final int NAMED = 5;

    private final String table;
    private final transient List<String> records;

    private LockedException(String problem, String table, List<String> records, SQLException cause) {
        super(problem, "Nothing was changed; try again when they are done.", cause);
        this.table = table;
        this.records = List.copyOf(records);
    }

    /**
     * Describes records that are held.
     *
     * @param table the table whose records are held, as people write it
     * @param records the keys of those that are, as far as the database could tell
     * @param cause what the driver said
     * @return the exception
     */
    public static LockedException of(String table, List<String> records, SQLException cause) {
        String named = records.isEmpty()
                ? "records of " + table
                : table + " " + String.join(", ", records.subList(0, Math.min(NAMED, records.size())))
                        + (records.size() > NAMED ? " and " + (records.size() - NAMED) + " more" : "");
        return new LockedException(
                "Somebody else is changing " + named + ", which this deletion needs.", table, records, cause);
    }

    /**
     * Describes a database that is held as a whole.
     *
     * @param table the table that was to be read or changed, as people write it
     * @param cause what the driver said
     * @return the exception
     */
    public static LockedException ofDatabase(String table, SQLException cause) {
        return new LockedException("Somebody else is writing to this database.", table, List.of(), cause);
    }

    /**
     * Returns the table whose records are held.
     *
     * @return its name
     */
    public String table() {
        return table;
    }

    /**
     * Returns the records that are held.
     *
     * @return their keys, empty where the database couldn't tell
     */
    public List<String> records() {
        return records;
    }
}
