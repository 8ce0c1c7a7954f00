package dev.vacancy.schedule;

import com.github.kagkarlsson.scheduler.ScheduledExecution;
import com.github.kagkarlsson.scheduler.ScheduledExecutionsFilter;
import com.github.kagkarlsson.scheduler.SchedulerClient;
import com.github.kagkarlsson.scheduler.exceptions.TaskInstanceCurrentlyExecutingException;
import com.github.kagkarlsson.scheduler.exceptions.TaskInstanceNotFoundException;
import com.github.kagkarlsson.scheduler.jdbc.JdbcCustomization;
import com.github.kagkarlsson.scheduler.task.TaskInstance;
import com.github.kagkarlsson.scheduler.task.TaskInstanceId;
import dev.vacancy.Approval;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Mode;
import dev.vacancy.Plan;
import dev.vacancy.StalePlanException;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.rule.Consent;
import dev.vacancy.rule.Ddl;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import javax.sql.DataSource;

/**
 * Deletions that begin by themselves, later or again and again, and whose state lives in the database of the records. Any number of
 * processes can work on them; each deletion is started by one, and all share its chunks.
 *
 * <pre>{@code
 * ScheduledRuns scheduled = ScheduledRuns.over(dataSource, vacancy);
 * scheduled.schedule(new ScheduledDeletion(
 *         "old readings", "reading", Optional.of("taken_at < today - 730 days"), By.program("night shift"),
 *         OptionalLong.of(50_000), Timing.parse(null, "0 2 * * *", ZoneId.of("Europe/Dublin"))));
 *
 * try (ScheduledWorker worker = scheduled.worker(BulkOptions.defaults(), listener)) {
 *     worker.start();
 *     ...
 * }
 * }</pre>
 *
 * <p>It is safe for use by many threads.
 *
 * @since 0.1
 */
public final class ScheduledRuns {
    static final String TABLE = "vacancy_scheduled";

    private final DataSource dataSource;
    private final Vacancy vacancy;
    private final Clock clock;
    private final StartTask task;

    private ScheduledRuns(DataSource dataSource, Vacancy vacancy, Clock clock) {
        this.dataSource = dataSource;
        this.vacancy = vacancy;
        this.clock = clock;
        this.task = new StartTask(vacancy, clock);
    }

    /**
     * Makes the entry to scheduled deletions.
     *
     * @param dataSource where their state is kept: the database of the records
     * @param vacancy the rules
     * @return scheduled deletions
     */
    public static ScheduledRuns over(DataSource dataSource, Vacancy vacancy) {
        return new ScheduledRuns(CommittingSource.over(dataSource), vacancy, Clock.systemUTC());
    }

    private boolean isThere() {
        return !Ddl.of(dataSource, Ddl.Part.SCHEDULE).isNeeded();
    }

    /**
     * Schedules a deletion that a program has decided on. Nothing is deleted until a worker is there when it is due.
     *
     * @param deletion what and when
     * @return when it is due first
     * @throws InvalidRequestException when there is one of that name, the selection doesn't fit the catalog, by the rules a person is
     *     asked, or its table is missing: {@link Ddl.Part#SCHEDULE}
     */
    public Instant schedule(ScheduledDeletion deletion) {
        return scheduleUnlessThere(decided(deletion));
    }

    /**
     * Has a deletion that a program has decided on scheduled, whether it is already or not: one of that name that says something else is
     * changed, and one that says the same stays as it is, so that an application may ask for it at each of its starts.
     *
     * @param deletion what and when
     * @return when it is due next
     * @throws InvalidRequestException when it is being started right now and has to be changed, and as for {@link
     *     #schedule(ScheduledDeletion)} but for its name
     */
    public Instant scheduleOrUpdate(ScheduledDeletion deletion) {
        ScheduledDeletion decided = decided(deletion);
        Optional<Upcoming> there = upcoming(decided.name());
        if (there.isPresent() && there.get().deletion().equals(decided)) {
            return there.get().due();
        }
        return there.isPresent() ? change(decided) : scheduleOnce(decided);
    }

    /** Two that begin at once both ask for the same; whoever comes second finds it there. */
    private Instant scheduleOnce(ScheduledDeletion deletion) {
        Stored stored = stored(deletion);
        Instant due = stored.start().orElseThrow();
        client().scheduleIfNotExists(new TaskInstance<>(StartTask.NAME, deletion.name(), stored), due);
        return upcoming(deletion.name()).map(Upcoming::due).orElse(due);
    }

    private Instant change(ScheduledDeletion deletion) {
        Stored stored = stored(deletion);
        Instant due = stored.start().orElseThrow();
        try {
            client().reschedule(TaskInstanceId.of(StartTask.NAME, deletion.name()), due, stored);
        } catch (TaskInstanceCurrentlyExecutingException starting) {
            throw beingStarted(deletion.name(), starting);
        } catch (TaskInstanceNotFoundException gone) {
            return scheduleOnce(deletion);
        }
        return due;
    }

    private Optional<Upcoming> upcoming(String name) {
        return list().stream()
                .filter(upcoming -> upcoming.deletion().name().equals(name))
                .findFirst();
    }

    private ScheduledDeletion decided(ScheduledDeletion deletion) {
        requireTable();
        Plan now = vacancy.plan(deletion.ofAnyNumber(), deletion.by());
        if (now.demanded() != Consent.NONE) {
            throw new InvalidRequestException(
                    FailureCode.NOT_AGREED,
                    "By the rules a person is asked before records of " + now.table() + " go, and nobody was.",
                    "Put the question about its plan in chunks, and schedule it with what the answer gives.");
        }
        requireNoColleague(now);
        return deletion;
    }

    /**
     * Schedules a deletion that somebody was asked about, who agrees to whatever is selected when it is due.
     *
     * @param deletion what and when
     * @param approval the answer to the question about the plan of what it selects now, in chunks
     * @return when it is due first
     * @throws InvalidRequestException when the approval is of something else, and as for {@link #schedule(ScheduledDeletion)}
     * @throws StalePlanException when that is another plan by now
     */
    public Instant schedule(ScheduledDeletion deletion, Approval approval) {
        requireTable();
        if (approval.mode() != Mode.IN_CHUNKS) {
            throw new InvalidRequestException(
                    FailureCode.APPROVAL_OF_ANOTHER,
                    "This was agreed to " + approval.mode() + ", and is to be done in chunks.",
                    "Put the question about chunks.");
        }
        Plan now = vacancy.plan(deletion.ofAnyNumber(), deletion.by());
        if (!now.fingerprint().equals(approval.fingerprint())) {
            throw new StalePlanException(List.of("what was asked about is another selection of " + now.table()
                    + ", or selects something else by now"));
        }
        requireNoColleague(now);
        return scheduleUnlessThere(deletion.given(approval.given()));
    }

    private static void requireNoColleague(Plan now) {
        if (now.colleague()) {
            throw new InvalidRequestException(
                    FailureCode.NOT_AGREED,
                    "By the rules a colleague has to agree to this deletion, and nobody can look at it when it is due.",
                    "Delete now, or take 'colleague' out of the consent for it.");
        }
    }

    private Stored stored(ScheduledDeletion deletion) {
        // No database keeps more of it.
        Instant due = deletion.timing().begin(clock.instant()).truncatedTo(ChronoUnit.MILLIS);
        Stored stored = new Stored(deletion, Optional.of(due), Optional.empty());
        stored.require();
        return stored;
    }

    private Instant scheduleUnlessThere(ScheduledDeletion deletion) {
        Stored stored = stored(deletion);
        Instant due = stored.start().orElseThrow();
        TaskInstance<Stored> instance = new TaskInstance<>(StartTask.NAME, deletion.name(), stored);
        if (!client().scheduleIfNotExists(instance, due)) {
            throw new InvalidRequestException(
                    FailureCode.USAGE,
                    "There is a scheduled deletion '" + deletion.name() + "' already.",
                    "Give another name, or cancel that one first.");
        }
        return due;
    }

    /**
     * Returns the scheduled deletions, those among them that a worker is starting right now.
     *
     * @return the one that is due first before the others; empty if there are none
     */
    public List<Upcoming> list() {
        return isThere()
                ? client()
                        .getScheduledExecutionsForTask(StartTask.NAME, Stored.class, ScheduledExecutionsFilter.all())
                        .stream()
                        .map(ScheduledRuns::upcoming)
                        .sorted(Comparator.comparing(Upcoming::due))
                        .toList()
                : List.of();
    }

    private static Upcoming upcoming(ScheduledExecution<Stored> execution) {
        return new Upcoming(
                execution.getData().deletion(),
                execution.getExecutionTime(),
                execution.getData().last());
    }

    /**
     * Takes a scheduled deletion off the list. A bulk run that it has started goes on.
     *
     * @param name its name
     * @throws InvalidRequestException when there is none of that name, or it is being started
     */
    public void cancel(String name) {
        if (upcoming(name).isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.UNKNOWN_RUN,
                    "There is no scheduled deletion '" + name + "'.",
                    "List them to see which there are.");
        }
        try {
            client().cancel(TaskInstanceId.of(StartTask.NAME, name));
        } catch (TaskInstanceCurrentlyExecutingException starting) {
            throw beingStarted(name, starting);
        }
    }

    private static InvalidRequestException beingStarted(String name, RuntimeException starting) {
        InvalidRequestException refusal = new InvalidRequestException(
                FailureCode.RUN_STATE,
                "The scheduled deletion '" + name + "' is being started right now.",
                "Try again in a moment; the bulk run that it starts can be cancelled as well.");
        refusal.addSuppressed(starting);
        return refusal;
    }

    /**
     * Makes a worker: it starts deletions when they are due, and works on all bulk runs that are running, whoever started them. A run
     * that was started with an exemption is left to workers that have it.
     *
     * @param options the chunks that it takes
     * @param listener is told what comes of it
     * @param exemptions those that it has
     * @return a worker that does nothing yet
     */
    public ScheduledWorker worker(BulkOptions options, ScheduleListener listener, Exemption... exemptions) {
        requireTable();
        return new ScheduledWorker(
                dataSource,
                customization(),
                task.of(listener),
                vacancy.bulk(),
                options,
                List.of(exemptions),
                listener,
                clock);
    }

    private void requireTable() {
        // What begins by itself is no part of a transaction that the application has open, and bulk runs say so.
        vacancy.bulk();
        if (!isThere()) {
            throw new InvalidRequestException(
                    FailureCode.NO_STATE_TABLES,
                    "The table that holds scheduled deletions is missing, or of an earlier version: " + TABLE + ".",
                    "Make it: Ddl.of(dataSource, Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE).apply(), or 'vacancy ddl --apply'.");
        }
    }

    private SchedulerClient client() {
        return SchedulerClient.Builder.create(dataSource, task.of(new ScheduleListener() {}))
                .tableName(TABLE)
                .serializer(Stored.AS_JSON)
                .jdbcCustomization(customization())
                .build();
    }

    private JdbcCustomization customization() {
        return new PlainTypes(dataSource);
    }
}
