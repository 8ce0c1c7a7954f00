package dev.vacancy.internal.rules;

import dev.vacancy.Criteria;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.request.RowMarker;
import dev.vacancy.rule.SoftDelete;
import java.sql.Types;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.Period;
import java.time.ZonedDateTime;
import java.util.Optional;

/**
 * For how long soft-deleted records are kept. A record's time is over when the moment of its deletion and the retention, added as the
 * calendar has it, have come. Where only the day of the deletion is known, its whole day counts first.
 */
final class Retention {
    private static final LocalTime LAST = LocalTime.of(23, 59, 59);

    private Retention() {}

    /** Picks the records whose time is over, by a single comparison. */
    static Criteria over(Table table, RowMarker marker, SoftDelete soft, ZonedDateTime now) {
        Period retention = soft.retention().orElseThrow();
        Optional<String> stamp = marker instanceof RowMarker.Flag ? soft.timeColumn() : Optional.empty();
        Column column = table.column(stamp.orElse(marker.column()));
        LocalDate day = lastDay(now.toLocalDate(), retention);
        ZonedDateTime end;
        if (isDay(column)) {
            end = retention.isZero() ? now : day.minusDays(1).atStartOfDay(now.getZone());
        } else {
            boolean exactly = day.plus(retention).equals(now.toLocalDate());
            end = day.atTime(exactly ? now.toLocalTime() : LAST).atZone(now.getZone());
        }
        return marker.deletedBy(table, stamp, RowMarker.timeIn(column, end));
    }

    /** When the time of a record is over that was deleted at a moment. */
    static ZonedDateTime end(Table table, RowMarker marker, SoftDelete soft, ZonedDateTime deleted) {
        Period retention = soft.retention().orElseThrow();
        Optional<String> stamp = marker instanceof RowMarker.Flag ? soft.timeColumn() : Optional.empty();
        Column column = table.column(stamp.orElse(marker.column()));
        return isDay(column) && !retention.isZero()
                ? deleted.toLocalDate().plusDays(1).plus(retention).atStartOfDay(deleted.getZone())
                : deleted.plus(retention);
    }

    private static boolean isDay(Column column) {
        return column.jdbcType() == Types.DATE;
    }

    /** The last day that is over with the retention by now: of several that end on the same, as months have other lengths, the last. */
    private static LocalDate lastDay(LocalDate today, Period retention) {
        LocalDate day = today.minus(retention);
        while (day.plus(retention).isAfter(today)) {
            day = day.minusDays(1);
        }
        while (!day.plusDays(1).plus(retention).isAfter(today)) {
            day = day.plusDays(1);
        }
        return day;
    }
}
