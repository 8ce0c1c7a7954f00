package dev.vacancy.internal.failure;

import dev.vacancy.NotAsPlannedException;
import java.util.List;

/**
 * Says what a database did otherwise than it was told.
 *
 * @since 0.1
 */
public final class Deviations {
    private Deviations() {}

    /**
     * Says that the database kept records that it was told to change.
     *
     * @param attempt what was tried, such as {@code delete from hive}
     * @param table the table
     * @param count how many records it was about
     * @param kept how many of them are as they were
     * @return the exception
     */
    public static NotAsPlannedException kept(String attempt, String table, long count, long kept) {
        return new NotAsPlannedException(
                "The database was told to " + attempt + ", " + count + " records, and left " + kept
                        + " of them as they were, without an error.",
                "Nothing was changed. A new plan won't help: look for a trigger that returns nothing, a rule that rewrites the"
                        + " statement, or row-level security on " + table + ".",
                table);
    }

    /**
     * Says that a record that was to come back isn't there.
     *
     * @param table the table
     * @param key the record's key
     * @return the exception
     */
    public static NotAsPlannedException swallowed(String table, String key) {
        return new NotAsPlannedException(
                "The database was told to insert " + table + " " + key + ", and did not, without an error.",
                "Nothing was changed. Look for a trigger that returns nothing, a rule that rewrites the statement, or row-level"
                        + " security on " + table + ".",
                table);
    }

    /**
     * Says that a record that was to come back holds something else.
     *
     * @param table the table
     * @param key the record's key
     * @param columns the columns that differ
     * @return the exception
     */
    public static NotAsPlannedException otherwise(String table, String key, List<String> columns) {
        return new NotAsPlannedException(
                table + " " + key + " would not come back as it was: the database made something else of "
                        + String.join(", ", columns) + ".",
                "Nothing was changed. Look for a trigger on " + table
                        + ", or a column that has become narrower; if it may differ,"
                        + " name the column among those whose changes don't count.",
                table);
    }

    /**
     * Says that something is still known of a person who was to be forgotten.
     *
     * @param what what is left, such as {@code 2 of inspection.note}
     * @param table the table
     * @return the exception
     */
    public static NotAsPlannedException known(String what, String table) {
        return new NotAsPlannedException(
                "All that is known was to be erased, and a second look still finds " + what + ".",
                "Nothing was changed. Look for a trigger on " + table
                        + " that writes it down again, or for somebody who" + " writes it at this moment.",
                table);
    }

    /**
     * Says that the database deleted more than it was told to.
     *
     * @param table the table
     * @param count how many records the plan has
     * @param changed how many are gone
     * @return the exception
     */
    public static NotAsPlannedException more(String table, long count, long changed) {
        return new NotAsPlannedException(
                "The database deleted " + changed + " records of " + table + " where the plan has " + count + ".",
                "Nothing was changed. Look for row-level security that hides records of " + table
                        + " from this user, or a trigger that deletes more.",
                table);
    }
}
