package dev.vacancy.schedule;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.util.Optional;

/**
 * When a scheduled deletion is due.
 *
 * @param first when for the first time; empty if that follows from the repetition
 * @param every after how long again and again: a period or duration of ISO 8601, such as {@code P1D} or {@code PT6H}, or a cron
 *     expression of five fields, or of six that begin with the second of the minute; empty for once
 * @param zone the zone in which days begin and clocks are read
 * @since 0.1
 */
public record Timing(Optional<Instant> first, Optional<String> every, ZoneId zone) {
    private static final Instant EARLIEST = Instant.parse("1970-01-02T00:00:00Z");
    private static final Instant LATEST = Instant.parse("2037-12-31T23:59:59Z");

    /** Refuses what can't be told as a time, or is never due. */
    public Timing {
        if (first.isEmpty() && every.isEmpty()) {
            throw wrong("Nothing says when the deletion is due.", null);
        }
        first.ifPresent(due -> requireKeepable("The deletion", due));
        every.ifPresent(text ->
                requireKeepable("'" + text + "'", Repetition.of(text, zone).after(EARLIEST, EARLIEST)));
    }

    /** Databases keep points in time of these years only; what never comes is as far away. */
    private static void requireKeepable(String what, Instant due) {
        if (due.isBefore(EARLIEST) || due.isAfter(LATEST)) {
            throw wrong(what + " would be due at " + due + ", or never.", null);
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
        return first.orElseGet(() -> Repetition.of(every.orElseThrow(), zone).after(now, now));
    }

    /**
     * Returns when the deletion is due again. It is counted from the first time, so that what falls on another day or hour once, at the end of
     * a short month or when the clocks change, is back at its own the next time. What was missed, as nobody worked, isn't made up for.
     *
     * @param start when it was due for the first time
     * @param due when it was due last
     * @param now the moment
     * @return the first time after both that follows, or empty if it isn't due again
     */
    public Optional<Instant> after(Instant start, Instant due, Instant now) {
        return every.map(text -> Repetition.of(text, zone).after(start, due.isAfter(now) ? due : now))
                .filter(next -> !next.isAfter(LATEST));
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

    static InvalidRequestException wrong(String what, Exception cause) {
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
