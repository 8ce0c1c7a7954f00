package dev.vacancy.cli.verbs;

import dev.vacancy.Approval;
import dev.vacancy.JsonForm;
import dev.vacancy.Limits;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Reporting;
import dev.vacancy.Selection;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.cli.asking.AskedDeletion;
import dev.vacancy.cli.asking.Asking;
import dev.vacancy.cli.asking.BulkWork;
import dev.vacancy.cli.asking.ChunkOptions;
import dev.vacancy.cli.asking.ColleagueOption;
import dev.vacancy.cli.asking.DeletedFile;
import dev.vacancy.cli.asking.ScheduleOptions;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.selecting.PickingList;
import dev.vacancy.cli.selecting.SelectionOptions;
import dev.vacancy.cli.showing.BulkText;
import dev.vacancy.cli.showing.PlanText;
import dev.vacancy.cli.showing.ScheduleText;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.rule.Ddl;
import dev.vacancy.schedule.ScheduledDeletion;
import dev.vacancy.schedule.ScheduledRuns;
import dev.vacancy.schedule.Timing;
import dev.vacancy.schedule.Upcoming;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.UUID;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Plans, asks, runs. */
@Command(
        name = "delete",
        mixinStandardHelpOptions = true,
        description = "Show all that a deletion would do, ask, and do exactly that.",
        footer = {
            "",
            "Without a terminal and without --yes the answer is no.",
            "Exit status: 6 if blocked records were left out and the others deleted."
        })
public final class DeleteCommand extends DatabaseCommand {
    private static final int LEFT_SHOWN = 20;

    @Mixin
    private SelectionOptions selection;

    @Mixin
    private ChunkOptions chunks;

    @Mixin
    private ScheduleOptions schedule;

    @Option(names = "--yes", description = "Answer the question with yes.")
    private boolean yes;

    @Mixin
    private ColleagueOption colleague;

    @Option(
            names = "--wait",
            paramLabel = "SECONDS",
            description = "How long to wait for records that somebody else holds; 0 fails at once. 5 if left out.")
    private Long wait;

    public DeleteCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public Limits limits() {
        return wait == null ? super.limits() : super.limits().lockWait(Duration.ofSeconds(wait));
    }

    @Override
    public int on(Session session) {
        chunks.validate();
        Optional<Timing> timing = schedule.timing();
        if (timing.isPresent()) {
            return scheduleFor(session, timing.get());
        }
        boolean picking = selection.isOpen()
                && !yes
                && !json()
                && surroundings().terminal().isThere();
        return picking ? pick(session) : delete(session, selection.plan(session.vacancy(), this::say));
    }

    /** Whoever doesn't agree, or can't, is back at the list. */
    private int pick(Session session) {
        PickingList list = selection.list(session.vacancy(), surroundings());
        while (true) {
            Optional<Selection> picked = list.pick();
            if (picked.isEmpty()) {
                say("Nothing was deleted.");
                return ExitStatus.NOT_APPROVED;
            }
            int status = delete(session, selection.plan(session.vacancy(), picked.get()));
            if (status != ExitStatus.NOT_APPROVED && status != ExitStatus.BLOCKED) {
                return status;
            }
        }
    }

    private int delete(Session session, Plan plan) {
        AskedDeletion deletion = new AskedDeletion(this, yes);
        OptionalInt settled = deletion.show(plan);
        if (settled.isPresent()) {
            return settled.getAsInt();
        }
        return chunks.isFor(plan)
                ? deleteInChunks(session, plan, deletion)
                : deletion.ask(plan, approval -> run(session, plan, colleague.with(approval)));
    }

    /** Whoever agrees now agrees to the criteria, and to whatever they select when the time has come. */
    private int scheduleFor(Session session, Timing timing) {
        ScheduledRuns scheduled = session.scheduled()
                .orElseThrow(() -> ToolException.wrongUsage(
                        "Deletions that are due later are offered on relational databases only.",
                        "Delete now, or have another program call this one when it is due."));
        ScheduledDeletion deletion = selection.scheduled(chunks.name(), timing);
        Plan now = session.vacancy().plan(deletion.ofAnyNumber(), deletion.by());
        if (now.colleague()) {
            throw new ToolException(
                    ExitStatus.NOT_APPROVED,
                    "By the rules a colleague has to agree to this deletion, and nobody can look at it when it is due.",
                    "Delete now with --agreed-by, or take 'colleague' out of the consent for it.",
                    null);
        }
        String question = "Now that would be " + PlanText.records(now.total()) + ". Delete " + deletion.words()
                + ", without being asked again?";
        Question asked = Question.aboutChunks(now);
        Optional<Approval> approved = new Asking(surroundings(), yes).ask(question, asked.typed(), asked::answer);
        if (approved.isEmpty()) {
            say("Not approved. Nothing was scheduled.");
            return ExitStatus.NOT_APPROVED;
        }
        if (session.makeTables(Ddl.Part.BULK_RUNS, Ddl.Part.SCHEDULE)) {
            say("Made the table vacancy_scheduled, which holds deletions that are due later.");
        }
        scheduled.schedule(deletion, approved.get());
        Upcoming upcoming = scheduled.list().stream()
                .filter(one -> one.deletion().name().equals(deletion.name()))
                .findFirst()
                .orElseThrow();
        print(json() ? JsonText.write(ScheduleText.view(upcoming)) : ScheduleText.of(List.of(upcoming)));
        say("It needs somebody who works: " + command("runs work --stay"));
        return ExitStatus.DONE;
    }

    /** What is written while the run goes on is worth nothing if the run fails. */
    private Outcome run(Session session, Plan plan, Approval approval) {
        if (chunks.deleted().isEmpty()) {
            return session.vacancy().run(approval);
        }
        DeletedFile file = DeletedFile.open(chunks.deleted().get(), plan.table(), false);
        Outcome outcome;
        try {
            outcome = session.vacancy().run(approval, Reporting.none().onRecord(file::write));
        } catch (RuntimeException failure) {
            file.discard();
            throw failure;
        }
        try {
            file.close();
        } catch (ToolException incomplete) {
            say(incomplete.getMessage() + " The records are deleted all the same, and that file lacks some of them.");
        }
        return outcome;
    }

    private int deleteInChunks(Session session, Plan plan, AskedDeletion deletion) {
        if (!plan.blockers().isEmpty()) {
            say("Those that are blocked when it comes to them are left out, and told.");
        }
        Optional<Approval> approval = deletion.put(Question.aboutChunks(plan), plan);
        if (approval.isEmpty()) {
            say("Not approved. Nothing was deleted.");
            return deletion.end(plan, "not approved", ExitStatus.NOT_APPROVED);
        }
        BulkRuns runs = session.vacancy().bulk();
        if (session.makeTables(Ddl.Part.BULK_RUNS)) {
            say("Made the tables vacancy_bulk_run and vacancy_bulk_record, which hold the state of bulk runs.");
        }
        Optional<DeletedFile> deleted = chunks.deleted().map(file -> DeletedFile.open(file, plan.table(), false));
        UUID run = start(runs, colleague.with(approval.get()), deleted);
        BulkWork work = new BulkWork(runs, chunks.options(), surroundings(), command("runs resume " + run));
        BulkRun end = work.on(run, deleted);
        chunks.failures().ifPresent(file -> work.writeLeft(run, file));
        print(json() ? JsonText.write(JsonForm.of(end)) : BulkText.of(end, runs.failures(run, LEFT_SHOWN)));
        return BulkWork.exitStatus(end);
    }

    /** A file that nothing will be written to is taken away again. */
    private UUID start(BulkRuns runs, Approval approval, Optional<DeletedFile> deleted) {
        try {
            return runs.start(approval, chunks.options()).runId();
        } catch (RuntimeException failure) {
            deleted.ifPresent(DeletedFile::discard);
            throw failure;
        }
    }
}
