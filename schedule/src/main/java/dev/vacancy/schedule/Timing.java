package dev.vacancy.schedule;

import com.github.kagkarlsson.scheduler.task.ExecutionComplete;
import com.github.kagkarlsson.scheduler.task.schedule.CronSchedule;
import com.github.kagkarlsson.scheduler.task.schedule.CronStyle;
import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.Period;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.Optional;

/**
 * When a scheduled deletion is due.
 *
 * @param first when for the first time; empty if that follows from the repetition
 * @param every after how long again and again: a period or duration of ISO 8601, such as {@code P1D} or {@code PT6H}, or a cron
 *     expression of five fields; empty for once
 * @param zone the zone in which days begin and clocks are read
 * @since 0.1
 */
public record Timing(Optional<Instant> first, Optional<String> every, ZoneId zone) {
    private static final Duration SHORTEST = Duration.ofMinutes(1);

    /** Refuses what can't be told as a time. */
    public Timing {
        if (first.isEmpty() && every.isEmpty()) {
            throw wrong("Nothing says when the deletion is due.", null);
        }
        if (every.isPresent()) {
            next(every.get(), Instant.EPOCH, zone);
        }
    }

    /**
     * Reads times as people write them.
     *
     * @param first when for the first time, such as {@code 2026-12-01T02:00} in the zone, or with an offset or Z; null if that
     *     follows from the repetition
     * @param every a period, a duration or a cron expression; null for once
     * @param zone the zone
     * @return the times
     * @throws InvalidRequestException when one of them can't be read, or none is given
     */
    public static Timing parse(String first, String every, ZoneId zone) {
        return new Timing(
                Optional.ofNullable(first).map(text -> instant(text, zone)), Optional.ofNullable(every), zone);
    }

    /**
     * Returns when the deletion is due for the first time.
     *
     * @param now the moment
     * @return the instant, perhaps already gone
     */
    public Instant begin(Instant now) {
        return first.orElseGet(() -> next(every.orElseThrow(), now, zone));
    }

    /**
     * Returns when the deletion is due again. What was missed, as nobody worked, isn't made up for.
     *
     * @param due when it was due
     * @param now the moment
     * @return the first time after both that follows, or empty if it isn't due again
     */
    public Optional<Instant> after(Instant due, Instant now) {
        if (every.isEmpty()) {
            return Optional.empty();
        }
        Instant next = next(every.get(), due, zone);
        while (!next.isAfter(now)) {
            next = next(every.get(), next, zone);
        }
        return Optional.of(next);
    }

    private static Instant next(String every, Instant from, ZoneId zone) {
        try {
            if (every.startsWith("P")) {
                Instant next = later(every, from, zone);
                if (next.isBefore(from.plus(SHORTEST))) {
                    throw wrong("'" + every + "' is less than a minute.", null);
                }
                return next;
            }
            return new CronSchedule(every, zone, CronStyle.UNIX)
                    .getNextExecutionTime(ExecutionComplete.simulatedSuccess(from));
        } catch (DateTimeException | IllegalArgumentException unreadable) {
            throw wrong("'" + every + "' can't be read as a time after which a deletion is due again.", unreadable);
        }
    }

    /** Days are of the calendar, so that two o'clock stays two o'clock when the clocks change. */
    private static Instant later(String every, Instant from, ZoneId zone) {
        int time = every.indexOf('T');
        ZonedDateTime start = from.atZone(zone);
        if (time < 0) {
            return start.plus(Period.parse(every)).toInstant();
        }
        ZonedDateTime days = time == 1 ? start : start.plus(Period.parse(every.substring(0, time)));
        return days.toInstant().plus(Duration.parse("P" + every.substring(time)));
    }

    private static Instant instant(String text, ZoneId zone) {
        try {
            boolean offset = text.endsWith("Z") || text.matches(".*T.*[+-]\\d\\d.*");
            return offset
                    ? OffsetDateTime.parse(text).toInstant()
                    : LocalDateTime.parse(text).atZone(zone).toInstant();
        } catch (DateTimeException unreadable) {
            throw wrong("'" + text + "' can't be read as a time.", unreadable);
        }
    }

    private static InvalidRequestException wrong(String what, Exception cause) {
        InvalidRequestException wrong = new InvalidRequestException(
                FailureCode.USAGE,
                what,
                "Write a time as 2026-12-01T02:00, with an offset or in the zone; a repetition as P1D or PT6H (ISO 8601), or as"
                        + " a cron expression such as '0 2 * * *'.");
        if (cause != null) {
            wrong.addSuppressed(cause);
        }
        return wrong;
    }
}
