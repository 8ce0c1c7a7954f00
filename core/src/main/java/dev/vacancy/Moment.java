package dev.vacancy;

import java.time.Clock;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A time that is told from the moment of planning: today, or now, and so much before or after.
 *
 * @param start {@code today}, the beginning of the day, or {@code now}
 * @param amount how much later; negative for earlier
 * @param unit the unit of that, hours to years
 * @since 0.1
 */
public record Moment(Start start, long amount, ChronoUnit unit) {
    private static final Pattern TEXT =
            Pattern.compile("(?i)(today|now)(?:\\s*([+-])\\s*([0-9]{1,6})\\s*(hour|day|week|month|year)s?)?");

    /** Where the counting begins. */
    public enum Start {
        /** The beginning of the day. */
        TODAY,
        /** The moment itself. */
        NOW
    }

    /**
     * Returns the beginning of the day.
     *
     * @return today
     */
    public static Moment today() {
        return new Moment(Start.TODAY, 0, ChronoUnit.DAYS);
    }

    /**
     * Returns the moment of planning.
     *
     * @return now
     */
    public static Moment now() {
        return new Moment(Start.NOW, 0, ChronoUnit.DAYS);
    }

    /**
     * Returns a later moment.
     *
     * @param more how much later, 0 or more
     * @param inUnit hours to years
     * @return that moment
     */
    public Moment plus(long more, ChronoUnit inUnit) {
        return new Moment(start, more, inUnit);
    }

    /**
     * Returns an earlier moment.
     *
     * @param less how much earlier, 0 or more
     * @param inUnit hours to years
     * @return that moment
     */
    public Moment minus(long less, ChronoUnit inUnit) {
        return new Moment(start, -less, inUnit);
    }

    /**
     * Reads a moment.
     *
     * @param text such as {@code today}, {@code now}, {@code today - 90 days} or {@code now + 2 hours}
     * @return the moment
     * @throws InvalidRequestException when it is something else
     */
    public static Moment parse(String text) {
        Matcher parts = TEXT.matcher(text.strip());
        if (!parts.matches()) {
            throw new InvalidRequestException(
                    FailureCode.CRITERIA_SYNTAX,
                    "'" + text + "' is no moment.",
                    "Write it as today, now, today - 90 days or now + 2 hours.");
        }
        Start start = Start.valueOf(parts.group(1).toUpperCase(Locale.ROOT));
        if (parts.group(2) == null) {
            return new Moment(start, 0, ChronoUnit.DAYS);
        }
        long amount = Long.parseLong(parts.group(3));
        ChronoUnit unit = ChronoUnit.valueOf(parts.group(4).toUpperCase(Locale.ROOT) + "S");
        return new Moment(start, parts.group(2).equals("-") ? -amount : amount, unit);
    }

    /**
     * Tells which moment is meant. Days and longer are counted by the calendar, hours on the time line: one is an hour when
     * the clocks change too.
     *
     * @param clock tells what now is, and what today is
     * @return the moment
     */
    public ZonedDateTime at(Clock clock) {
        ZonedDateTime now = ZonedDateTime.now(clock);
        ZonedDateTime from = start == Start.TODAY ? now.toLocalDate().atStartOfDay(clock.getZone()) : now;
        return from.plus(amount, unit);
    }

    @Override
    public String toString() {
        String name = start.name().toLowerCase(Locale.ROOT);
        return amount == 0
                ? name
                : name + (amount < 0 ? " - " : " + ") + Math.abs(amount) + " "
                        + unit.name().toLowerCase(Locale.ROOT);
    }
}
