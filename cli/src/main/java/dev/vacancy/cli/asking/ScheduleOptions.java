package dev.vacancy.cli.asking;

import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.schedule.Timing;
import java.time.DateTimeException;
import java.time.ZoneId;
import java.util.Optional;
import picocli.CommandLine.Option;

/** When a deletion is due, if not now. */
public final class ScheduleOptions {
    @Option(
            names = "--at",
            paramLabel = "TIME",
            description =
                    "Delete later, as a bulk run of what is selected then: 2026-12-01T02:00, in the zone of --zone,"
                            + " or with an offset. A worker has to be there: see 'runs work --stay'.")
    private String at;

    @Option(
            names = "--every",
            paramLabel = "PERIOD",
            description = "Again and again: P1D, PT6H (ISO 8601), or a cron expression such as '0 2 * * *'.")
    private String every;

    @Option(
            names = "--zone",
            paramLabel = "ZONE",
            description = "The time zone of --at and --every; the system's if left out.")
    private String zone;

    /** The times, if any were given. */
    public Optional<Timing> timing() {
        return at == null && every == null ? Optional.empty() : Optional.of(Timing.parse(at, every, zone()));
    }

    private ZoneId zone() {
        try {
            return zone == null ? ZoneId.systemDefault() : ZoneId.of(zone);
        } catch (DateTimeException unknown) {
            throw ToolException.wrongUsage(
                    "There is no time zone '" + zone + "'.",
                    "Name one as in Europe/Dublin, or give an offset such as +01:00.");
        }
    }
}
