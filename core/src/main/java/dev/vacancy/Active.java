package dev.vacancy;

import dev.vacancy.internal.engine.ActiveRecords;
import java.time.LocalDate;

/**
 * Which records of a table are active, for the application's own queries, so that none of them forgets it.
 *
 * <pre>{@code
 * Active keepers = vacancy.active("keeper");
 * String sql = "select k.name from keeper k where " + keepers.sql("k");        // k."LEFT_AT" is null
 * }</pre>
 *
 * @since 0.1
 */
public sealed interface Active permits ActiveRecords {
    /**
     * Returns what picks the active records, to be joined with the application's own criteria.
     *
     * @return the criteria
     */
    Criteria criteria();

    /**
     * Returns the records that were active on a day: those that are active now, and those that were deleted after it. An end that is still to
     * come counts as it does in {@link #criteria()}: whoever has one isn't active, on no day.
     *
     * @param day the day
     * @return the same for that day
     * @throws InvalidRequestException when the marker doesn't say when
     */
    Active asOf(LocalDate day);

    /**
     * Returns the condition in the database's own words, without a question mark.
     *
     * @param alias what the table is called in the query
     * @return a condition in parentheses
     */
    String sql(String alias);
}
