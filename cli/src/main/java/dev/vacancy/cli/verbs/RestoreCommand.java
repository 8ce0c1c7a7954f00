package dev.vacancy.cli.verbs;

import dev.vacancy.Approval;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Vacancy;
import dev.vacancy.cli.asking.AskedDeletion;
import dev.vacancy.cli.asking.AskedRetirement;
import dev.vacancy.cli.asking.Asking;
import dev.vacancy.cli.asking.ByOptions;
import dev.vacancy.cli.asking.ChunkOptions;
import dev.vacancy.cli.asking.ColleagueOption;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.FilesOption;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.selecting.HandOverOptions;
import dev.vacancy.cli.selecting.RunIds;
import dev.vacancy.cli.showing.PlanText;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.history.Conflict;
import dev.vacancy.history.History;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.RestoreOutcome;
import dev.vacancy.history.RestorePlan;
import dev.vacancy.history.TrailRun;
import dev.vacancy.internal.engine.Engine;
import dev.vacancy.retirement.Retired;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.UUID;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Undoes a run. */
@Command(
        name = "restore",
        mixinStandardHelpOptions = true,
        description = {
            "Bring back what a run has deleted, as it was: show it, ask, and do exactly that.",
            "A restore is undone the same way: what it brought back is deleted again.",
            "A column or a table that has retired comes back by the run that set it aside."
        },
        footer = {"", "Exit status: 3 if something stands in the way; all of it is told, and nothing is changed."})
public final class RestoreCommand extends DatabaseCommand {
    private static final int SHOWN = 20;

    @Parameters(
            paramLabel = "RUN",
            description =
                    "The run's id, or the beginning of it; or that of a bulk run; last for the newest that can be undone."
                            + " 'history' lists them.")
    private String run;

    @Option(
            names = "--only",
            paramLabel = "TABLE=KEY",
            description = "Bring back this record only, and what went with it; such as hive=12.")
    private String only;

    @Option(
            names = "--chunk",
            paramLabel = "N",
            description = {
                "Bring back about so many records at a time, each time in a transaction of its own; beyond 100,000 records that"
                        + " is done anyway.",
                "If it ends early, the same command goes on."
            })
    private Integer chunk;

    @Option(names = "--yes", description = "Answer the question with yes.")
    private boolean yes;

    @Mixin
    private FilesOption files;

    @Mixin
    private ColleagueOption colleague;

    @Mixin
    private HandOverOptions handOver;

    @Mixin
    private ByOptions by;

    public RestoreCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        Optional<Retired> retired = retired(session.vacancy());
        if (retired.isPresent()) {
            return bringBack(session.vacancy(), retired.get());
        }
        History history =
                files.addTo(session.vacancy(), surroundings().folder()).history();
        List<TrailRun> runs = history.runs(HistoryQuery.all().atMost(Integer.MAX_VALUE));
        UUID id = run.equals("last") ? RunIds.last(runs) : RunIds.find(run, runs, "a run");
        if (runs.stream().filter(TrailRun::isRestore).anyMatch(known -> isOf(known, id))) {
            return undo(session, id);
        }
        if (!handOver.isEmpty()) {
            throw ToolException.wrongUsage(
                    "Nobody takes over anything when a deletion is undone.",
                    "Leave out --reassign; it is for undoing a restore.");
        }
        RestorePlan plan = plan(history, id);
        if (!json()) {
            print(text(plan));
            print("");
        }
        if (!plan.conflicts().isEmpty()) {
            say("Nothing was changed.");
            return end(plan, id, "conflict", Optional.empty(), ExitStatus.BLOCKED);
        }
        if (plan.isEmpty()) {
            say("There is nothing to bring back.");
            return end(plan, id, "nothing matched", Optional.empty(), ExitStatus.NOTHING_MATCHED);
        }
        Question question = Question.about(plan);
        Optional<Approval> approval =
                new Asking(surroundings(), yes).ask(question.text(), Optional.empty(), question::answer);
        if (approval.isEmpty()) {
            say("Not approved. Nothing was changed.");
            return end(plan, id, "not approved", Optional.empty(), ExitStatus.NOT_APPROVED);
        }
        RestoreOutcome outcome = restore(history, plan, colleague.with(approval.get()));
        if (!json()) {
            print(done(outcome));
        }
        return end(plan, id, "done", Optional.of(outcome), ExitStatus.DONE);
    }

    /** A column or a table that has retired goes by the number of the run that set it aside. */
    private Optional<Retired> retired(Vacancy vacancy) {
        List<Retired> found = vacancy.retirements().list().stream()
                .filter(one -> one.id().toString().startsWith(run))
                .toList();
        boolean isOnlyOne = found.size() == 1
                && (Engine.rulesOf(vacancy).recording().isEmpty()
                        || vacancy.history().runs(HistoryQuery.all().atMost(Integer.MAX_VALUE)).stream()
                                .map(TrailRun::runId)
                                .filter(id -> id.toString().startsWith(run))
                                .allMatch(found.get(0).id()::equals));
        return isOnlyOne ? Optional.of(found.get(0)) : Optional.empty();
    }

    private int bringBack(Vacancy vacancy, Retired retired) {
        if (only != null || chunk != null || !handOver.isEmpty()) {
            throw ToolException.wrongUsage(
                    "Run " + retired.id() + " set " + retired.name() + " aside; it comes back as a whole.",
                    "Leave out --only, --chunk and --reassign.");
        }
        AskedRetirement asked = AskedRetirement.of(this, yes, colleague);
        int status = asked.on(vacancy, vacancy.retirements().planReturn(retired.id(), by.by()));
        if (json()) {
            print(JsonText.write(asked.view()));
        }
        return status;
    }

    private static boolean isOf(TrailRun run, UUID id) {
        return run.runId().equals(id) || run.partOf().filter(id::equals).isPresent();
    }

    private RestoreOutcome restore(History history, RestorePlan plan, Approval approval) {
        long records = plan.total();
        if (chunk == null && records <= ChunkOptions.DEFAULT_MAX_PER_TRANSACTION) {
            return history.restore(approval);
        }
        long[] back = {0};
        return history.restore(approval, chunk == null ? ChunkOptions.DEFAULT_MAX_PER_TRANSACTION : chunk, portion -> {
            back[0] += PlanText.sum(portion.counts());
            say("Brought back " + PlanText.number(back[0]) + " of " + PlanText.records(records));
        });
    }

    /** What came back goes again, in the way that anything goes. */
    private int undo(Session session, UUID restore) {
        if (only != null || chunk != null) {
            throw ToolException.wrongUsage(
                    "Run " + restore + " is a restore; it is undone as a whole.", "Leave out --only and --chunk.");
        }
        Vacancy vacancy = session.vacancy();
        Plan plan = vacancy.plan(handOver.on(vacancy.history().undoing(restore), vacancy), by.by());
        say("Run " + restore + " is a restore. To undo it, what it brought back is deleted again.");
        AskedDeletion deletion = new AskedDeletion(this, yes);
        OptionalInt settled = deletion.show(plan);
        return settled.isPresent()
                ? settled.getAsInt()
                : deletion.ask(plan, approval -> vacancy.run(colleague.with(approval)));
    }

    private RestorePlan plan(History history, UUID id) {
        if (only == null) {
            return history.planRestore(id, by.by());
        }
        int point = only.indexOf('=');
        if (point < 1) {
            throw ToolException.wrongUsage(
                    "'" + only + "' names no record.", "Write it as TABLE=KEY, such as hive=12.");
        }
        return history.planRestore(id, only.substring(0, point), only.substring(point + 1), by.by());
    }

    private String done(RestoreOutcome outcome) {
        List<String> lines = new ArrayList<>();
        if (!outcome.counts().isEmpty()) {
            lines.add("Brought back " + PlanText.records(PlanText.sum(outcome.counts())) + ": "
                    + PlanText.counts(outcome.counts()));
        }
        outcome.putBack().forEach((link, count) -> lines.add("Put back " + PlanText.records(count) + ": " + link));
        lines.add("Run " + outcome.runId() + " by " + outcome.by().actor());
        return String.join(System.lineSeparator(), lines);
    }

    private String text(RestorePlan plan) {
        List<String> lines = new ArrayList<>();
        lines.add("Run " + plan.run().runId() + ": " + plan.run().kind() + " of "
                + plan.run().selection() + " by "
                + plan.run().by().actor() + " at " + plan.run().at()
                + plan.run().by().reason().map(why -> ", because: " + why).orElse(""));
        plan.only()
                .map(record -> "Of it only " + record + ", and what went with it")
                .ifPresent(lines::add);
        if (!plan.conflicts().isEmpty()) {
            lines.add(paint().forbids("In the way:"));
            plan.conflicts().stream().limit(SHOWN).map(RestoreCommand::text).forEach(lines::add);
            if (plan.conflicts().size() > SHOWN) {
                lines.add("  and " + PlanText.number(plan.conflicts().size() - SHOWN) + " more");
            }
            return String.join(System.lineSeparator(), lines);
        }
        if (!plan.counts().isEmpty()) {
            lines.add("Brings back " + PlanText.records(plan.total()) + ": " + PlanText.counts(plan.counts()));
        }
        plan.putBack()
                .forEach((link, count) ->
                        lines.add(paint().changes("Puts back") + " " + PlanText.records(count) + ": " + link));
        plan.left().stream().limit(SHOWN).map(left -> "Note: " + left).forEach(lines::add);
        return String.join(System.lineSeparator(), lines);
    }

    private static String text(Conflict conflict) {
        return "  " + conflict.table() + " " + conflict.key() + ": " + conflict.reason() + System.lineSeparator()
                + "    " + conflict.remedy();
    }

    private int end(RestorePlan plan, UUID undone, String status, Optional<RestoreOutcome> outcome, int exitStatus) {
        if (json()) {
            Map<String, Object> json = new LinkedHashMap<>();
            json.put("run", outcome.map(done -> done.runId().toString()).orElse(null));
            json.put("undone", undone.toString());
            json.put("status", status);
            json.put("counts", plan.counts());
            json.put("putBack", plan.putBack());
            json.put("left", plan.left());
            json.put("conflicts", plan.conflicts());
            print(JsonText.write(json));
        }
        return exitStatus;
    }
}
