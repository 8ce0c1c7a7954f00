package dev.vacancy.internal.request;

import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogColumn;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.rule.Marker;
import java.sql.Types;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.util.Optional;
import java.util.Set;

/** How a table marks its soft-deleted records, in its own columns. */
public sealed interface RowMarker extends Marker
        permits RowMarker.Timestamp, RowMarker.EndDate, RowMarker.Flag, LatestRow {
    /**
     * A date or time that is null while a record is active, and then says since when it isn't.
     *
     * @param column the column
     */
    record Timestamp(String column) implements RowMarker {
        @Override
        public Criteria active(Table table) {
            Column found = timeOf(table, column);
            if (!found.nullable()) {
                throw new InvalidRequestException(
                        FailureCode.RULES,
                        table + "." + found + " may not be null, so no record of " + table + " would be active.",
                        "Name a column that may, or mark by an end date.");
            }
            return Criteria.column(found.name()).isNull();
        }
    }

    /**
     * A date or time that is null or far in the future while a record is active.
     *
     * @param column the column
     * @param never from when on a date means that there is no end
     */
    record EndDate(String column, LocalDate never) implements RowMarker {
        @Override
        public Criteria active(Table table) {
            Column found = timeOf(table, column);
            Criteria open = Criteria.column(found.name()).atLeast(from(found));
            return found.nullable() ? Criteria.column(found.name()).isNull().or(open) : open;
        }

        private Object from(Column found) {
            if (found.jdbcType() == Types.DATE) {
                return never;
            }
            return CatalogColumn.of(found).isZoned()
                    ? never.atStartOfDay().atOffset(ZoneOffset.UTC)
                    : never.atStartOfDay();
        }
    }

    /**
     * A column that has one certain value while a record is active: a truth value, a number, a letter or a word.
     *
     * @param column the column
     * @param active that value
     * @param gone the value while it isn't; empty for the other truth value
     */
    record Flag(String column, Object active, Optional<Object> gone) implements RowMarker {
        @Override
        public Criteria active(Table table) {
            return Criteria.column(table.column(column).name()).equalTo(active);
        }
    }

    /**
     * Returns the engine's side of what the rules say.
     *
     * @param given the marker
     * @return the same
     */
    static RowMarker of(Marker given) {
        return (RowMarker) given;
    }

    /**
     * Returns the column that marks.
     *
     * @return its name
     */
    String column();

    /**
     * Returns what the column is set to when a record is deleted.
     *
     * @param table the table that is marked so
     * @param now the moment
     * @return a value of the column's type
     * @throws InvalidRequestException when a flag doesn't say what
     */
    default Object mark(Table table, ZonedDateTime now) {
        Column found = table.column(column());
        if (this instanceof Flag flag) {
            if (flag.gone().isPresent()) {
                return CatalogTable.of(table).convert(found, flag.gone().get());
            }
            if (CatalogTable.of(table).convert(found, flag.active()) instanceof Boolean active) {
                return !active;
            }
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "the flag " + table + "." + found + " doesn't say what deleted records have there.",
                    "Give that value too, as 'gone'.");
        }
        return timeIn(found, now);
    }

    /**
     * Returns a moment as a column takes it.
     *
     * @param column a column for dates or times
     * @param now the moment
     * @return a date, a local time or one with its offset, of no more digits than the column holds
     */
    static Object timeIn(Column column, ZonedDateTime now) {
        return timeIn(column, now, ChronoUnit.SECONDS);
    }

    /**
     * Returns a moment as a column takes it.
     *
     * @param column a column for dates or times
     * @param now the moment
     * @param unit how fine it is at most
     * @return a date, a local time or one with its offset
     */
    static Object timeIn(Column column, ZonedDateTime now, ChronoUnit unit) {
        ZonedDateTime moment = now.truncatedTo(unit);
        if (column.jdbcType() == Types.DATE) {
            return moment.toLocalDate();
        }
        return CatalogColumn.of(column).isZoned() ? moment.toOffsetDateTime() : moment.toLocalDateTime();
    }

    /**
     * Returns what picks the active records.
     *
     * @param table the table that is marked so
     * @return the criteria
     * @throws InvalidRequestException when the column is unknown or can't mark
     */
    Criteria active(Table table);

    /**
     * Returns what picks the soft-deleted records, where these aren't simply all others.
     *
     * @param table the table that is marked so
     * @return the criteria; empty for all that aren't active
     */
    default Optional<Criteria> deleted(Table table) {
        return Optional.empty();
    }

    /**
     * Tells whether a record is active by what it holds in the marker's column.
     *
     * @param table the table that is marked so
     * @param value the value as it stands in the trail, or null
     * @return true if it is; of a table where the latest row of a key holds, always
     */
    default boolean isActive(Table table, Object value) {
        Column found = table.column(column());
        if (this instanceof Flag flag) {
            return value != null
                    && CatalogTable.of(table)
                            .convert(found, value)
                            .equals(CatalogTable.of(table).convert(found, flag.active()));
        }
        if (this instanceof EndDate end) {
            Object until = value == null ? null : CatalogTable.of(table).convert(found, value);
            LocalDate day = until instanceof LocalDateTime local
                    ? local.toLocalDate()
                    : until instanceof OffsetDateTime zoned
                            ? zoned.toLocalDate()
                            : until instanceof LocalDate date ? date : null;
            return day == null || !day.isBefore(end.never());
        }
        return this instanceof LatestRow || value == null;
    }

    /**
     * Returns what picks the records that had been deleted by a certain time, among those that aren't active.
     *
     * @param table the table that is marked so
     * @param stamp the column that says when a record was deleted, where the marker doesn't
     * @param end that time, as {@link #timeIn} gives it
     * @return the criteria
     */
    default Criteria deletedBy(Table table, Optional<String> stamp, Object end) {
        return Criteria.column(table.column(stamp.orElse(column())).name()).atMost(end);
    }

    /**
     * Finds a column that says when.
     *
     * @param table the table
     * @param name the column's name
     * @return a column for dates or points in time
     * @throws InvalidRequestException when it is unknown or another type
     */
    static Column timeOf(Table table, String name) {
        Column column = table.column(name);
        if (!Set.of(Types.DATE, Types.TIMESTAMP, Types.TIMESTAMP_WITH_TIMEZONE).contains(column.jdbcType())) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    table + "." + column + " is " + ColumnType.of(column) + ", which is no date or time.",
                    "Name a column that says when, or mark by a flag.");
        }
        return column;
    }
}
