package dev.vacancy.schedule;

import com.github.kagkarlsson.scheduler.task.ExecutionComplete;
import com.github.kagkarlsson.scheduler.task.schedule.CronSchedule;
import com.github.kagkarlsson.scheduler.task.schedule.CronStyle;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.Period;
import java.time.ZoneId;
import java.time.ZonedDateTime;

/** How something is due again and again. */
sealed interface Repetition {
    /**
     * Returns the first time that is later than a moment.
     *
     * @param start when it was due for the first time
     */
    Instant after(Instant start, Instant moment);

    /** Reads a period or duration of ISO 8601, or a cron expression of five fields, or of six that begin with the second. */
    static Repetition of(String every, ZoneId zone) {
        try {
            return every.startsWith("P") ? Steps.of(every, zone) : Clockwork.of(every, zone);
        } catch (DateTimeException | IllegalArgumentException | ArithmeticException unreadable) {
            throw Timing.wrong(
                    "'" + every + "' can't be read as a time after which a deletion is due again.", unreadable);
        }
    }

    /** By the calendar and the clock, such as at two o'clock of each Monday. */
    record Clockwork(CronSchedule cron) implements Repetition {
        private static final String FIELD = "[0-9*,/?A-Za-z#-]+";

        static Clockwork of(String every, ZoneId zone) {
            String minutes = "(" + FIELD + "\\s+){4}" + FIELD;
            if (every.strip().matches("[0-9]{1,2}\\s+" + minutes)) {
                return new Clockwork(new CronSchedule(every, zone, CronStyle.SPRING53));
            }
            if (!every.strip().matches(minutes)) {
                throw new IllegalArgumentException(every);
            }
            return new Clockwork(new CronSchedule(every, zone, CronStyle.UNIX));
        }

        @Override
        public Instant after(Instant start, Instant moment) {
            return cron.getNextExecutionTime(ExecutionComplete.simulatedSuccess(moment));
        }
    }

    /** In equal steps from the first time. Days, weeks and months are of the calendar, so that two o'clock stays two o'clock. */
    record Steps(long months, long days, Duration time, ZoneId zone) implements Repetition {
        private static final Duration SHORTEST = Duration.ofMinutes(1);
        private static final double SECONDS_OF_A_DAY = 86_400;
        private static final double DAYS_OF_A_MONTH = 146_097 / 4_800.0;

        @SuppressWarnings("JavaPeriodGetDays") // the months are read beside them
        static Steps of(String every, ZoneId zone) {
            int clock = every.indexOf('T');
            Period days = clock == 1 ? Period.ZERO : Period.parse(clock < 0 ? every : every.substring(0, clock));
            Duration time = clock < 0 ? Duration.ZERO : Duration.parse("P" + every.substring(clock));
            Steps steps = new Steps(days.toTotalMonths(), days.getDays(), time, zone);
            if (steps.at(Instant.EPOCH, 1).isBefore(Instant.EPOCH.plus(SHORTEST)) || steps.seconds() < 1) {
                throw Timing.wrong("'" + every + "' is less than a minute.", null);
            }
            return steps;
        }

        /** How long a step is on average. */
        private double seconds() {
            return (months * DAYS_OF_A_MONTH + days) * SECONDS_OF_A_DAY + time.toSeconds();
        }

        private Instant at(Instant start, long step) {
            ZonedDateTime day = start.atZone(zone)
                    .plusMonths(Math.multiplyExact(months, step))
                    .plusDays(Math.multiplyExact(days, step));
            return day.toInstant().plus(time.multipliedBy(step));
        }

        /** Steps are as long as each other but for a few days, so that the right one is near to where the average leads. */
        @Override
        public Instant after(Instant start, Instant moment) {
            long step = Math.max(1, (long) (Duration.between(start, moment).toSeconds() / seconds()));
            while (step > 1 && at(start, step - 1).isAfter(moment)) {
                step--;
            }
            while (!at(start, step).isAfter(moment)) {
                step++;
            }
            return at(start, step);
        }
    }
}
