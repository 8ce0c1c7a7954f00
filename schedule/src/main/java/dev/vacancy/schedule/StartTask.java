package dev.vacancy.schedule;

import com.github.kagkarlsson.scheduler.task.CompletionHandler;
import com.github.kagkarlsson.scheduler.task.FailureHandler;
import com.github.kagkarlsson.scheduler.task.Task;
import com.github.kagkarlsson.scheduler.task.helper.Tasks;
import dev.vacancy.Approval;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkOptions;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.Exemption;
import dev.vacancy.rule.Consent;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Locale;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Starts the bulk run of a deletion that is due, and sets it down for the next time. */
final class StartTask {
    static final String NAME = "deletion";

    private static final Logger LOG = LoggerFactory.getLogger(StartTask.class);
    private static final Duration TRY_AGAIN = Duration.ofMinutes(1);

    private final Vacancy vacancy;
    private final Clock clock;

    StartTask(Vacancy vacancy, Clock clock) {
        this.vacancy = vacancy;
        this.clock = clock;
    }

    /** Returns the task. If the process dies in the middle of it, another one does it again. */
    Task<Stored> of(ScheduleListener listener) {
        return Tasks.custom(NAME, Stored.class)
                .onDeadExecutionRevive()
                .onFailure(new FailureHandler.OnFailureRetryLater<>(TRY_AGAIN))
                .execute((instance, context) -> {
                    Stored stored = instance.getData();
                    String outcome = start(stored.deletion(), listener);
                    return next(stored, context.getExecution().executionTime, outcome);
                });
    }

    private CompletionHandler<Stored> next(Stored stored, Instant due, String outcome) {
        ScheduledDeletion deletion = stored.deletion();
        Instant start = stored.start().orElse(due);
        Optional<Instant> next = deletion.timing().after(start, due, clock.instant());
        return (complete, operations) -> next.ifPresentOrElse(
                instant -> operations.reschedule(
                        complete, instant, new Stored(deletion, Optional.of(start), Optional.of(due + ": " + outcome))),
                operations::remove);
    }

    /** Returns what came of it, in words. What the request is to blame for is no better a minute later. */
    private String start(ScheduledDeletion deletion, ScheduleListener listener) {
        try {
            return startedOrLeftOut(deletion, listener);
        } catch (InvalidRequestException refusal) {
            LOG.warn("The scheduled deletion '{}' was refused", deletion.name(), refusal);
            listener.refused(deletion.name(), refusal);
            return "refused: " + refusal.getMessage();
        }
    }

    private String startedOrLeftOut(ScheduledDeletion deletion, ScheduleListener listener) {
        boolean goingOn = vacancy.bulk().list().stream()
                .anyMatch(run -> run.name().equals(deletion.name())
                        && isOfTable(run, deletion)
                        && !run.state().isFinal());
        if (goingOn) {
            // Whoever paused it doesn't want its records deleted by the next one.
            return leftOut(deletion, listener, "the run before is not done");
        }
        Plan plan = vacancy.plan(deletion.selection(), deletion.by());
        if (plan.selected() == 0) {
            return leftOut(deletion, listener, "nothing matched");
        }
        BulkOptions options = BulkOptions.defaults().named(deletion.name());
        BulkRun run = vacancy.bulk()
                .start(
                        approval(deletion, plan),
                        deletion.exemption()
                                .map(name ->
                                        options.exempting(Exemption.named(name, (record, any) -> Optional.empty())))
                                .orElse(options));
        LOG.info("The scheduled deletion '{}' started bulk run {}", deletion.name(), run.runId());
        listener.started(deletion.name(), run);
        return String.format(Locale.ROOT, "started bulk run %s of %,d records", run.runId(), run.records());
    }

    private boolean isOfTable(BulkRun run, ScheduledDeletion deletion) {
        return run.table().equals(vacancy.catalog().table(deletion.table()).name());
    }

    /** Whoever was asked when it was scheduled agreed to whatever is selected now; where more is asked for by now, it is refused. */
    private static Approval approval(ScheduledDeletion deletion, Plan plan) {
        boolean enough = deletion.given() != Consent.NONE && deletion.given().compareTo(plan.demanded()) >= 0;
        Question question = Question.aboutChunks(plan);
        return enough ? question.answer(question.typed().orElse("yes")).orElseThrow() : Approval.inChunks(plan);
    }

    private static String leftOut(ScheduledDeletion deletion, ScheduleListener listener, String reason) {
        LOG.info("The scheduled deletion '{}' was left out: {}", deletion.name(), reason);
        listener.leftOut(deletion.name(), reason);
        return "left out, as " + reason;
    }
}
