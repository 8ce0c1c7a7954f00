package dev.vacancy.rule;

import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.request.RowMarker;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;

/**
 * How a table marks its soft-deleted records: those that are still there, but not active any more.
 *
 * <pre>{@code
 * RuleBook.bySchema()
 *     .marker("keeper", Marker.timestamp("left_at"))
 *     .marker("placement", Marker.endDate("until_date"))
 *     .marker("apiary", Marker.flag("status", "open"))
 *     .marker("stay", Marker.latestRow("from_date", "apiary_id", "keeper_id"))
 * }</pre>
 *
 * @since 0.1
 */
public sealed interface Marker permits RowMarker {
    /**
     * Marks by a date or time that is null while a record is active. It also says when that ended.
     *
     * @param column the column
     * @return the marker
     */
    static Marker timestamp(String column) {
        return new RowMarker.Timestamp(column);
    }

    /**
     * Marks by a date or time that is null, or 9999-12-31, while a record is active.
     *
     * @param column the column
     * @return the marker
     */
    static Marker endDate(String column) {
        return endDate(column, LocalDate.of(9999, 12, 31));
    }

    /**
     * Marks by a date or time that is null, or far in the future, while a record is active.
     *
     * @param column the column
     * @param never from when on a date means that there is no end
     * @return the marker
     */
    static Marker endDate(String column, LocalDate never) {
        return new RowMarker.EndDate(column, never);
    }

    /**
     * Marks by a column that has one certain value while a record is active.
     *
     * @param column the column
     * @param active that value, of the column's type or as text
     * @return the marker
     */
    static Marker flag(String column, Object active) {
        return new RowMarker.Flag(column, active, Optional.empty());
    }

    /**
     * Marks by a column that has one certain value while a record is active, and another when it is deleted.
     *
     * @param column the column
     * @param active the value of active records, of the column's type or as text
     * @param gone the value of deleted ones
     * @return the marker
     */
    static Marker flag(String column, Object active, Object gone) {
        return new RowMarker.Flag(column, active, Optional.of(gone));
    }

    /**
     * Marks by rows that follow each other: of those with the same key the newest is active, unless it is a closing row, which has
     * null in a column.
     *
     * @param start the column that says from when on a row holds
     * @param closing the column that is null in a closing row
     * @param key the columns that the rows of one key have in common, at least one
     * @return the marker
     */
    static Marker latestRow(String start, String closing, String... key) {
        return new LatestRow(List.of(key), start, closing, Optional.empty());
    }

    /**
     * Marks by rows that follow each other, as {@link #latestRow(String, String, String...)} does, where a closing row has a certain value.
     *
     * @param start the column that says from when on a row holds
     * @param closing the column that tells a closing row
     * @param closed what a closing row has there, of the column's type or as text
     * @param key the columns that the rows of one key have in common, at least one
     * @return the marker
     */
    static Marker latestRow(String start, String closing, Object closed, List<String> key) {
        return new LatestRow(key, start, closing, Optional.of(closed));
    }
}
