package dev.vacancy.cli.verbs;

import dev.vacancy.Approval;
import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import dev.vacancy.Question;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.bulk.BulkRuns;
import dev.vacancy.catalog.Table;
import dev.vacancy.cli.asking.AskedRetirement;
import dev.vacancy.cli.asking.Asking;
import dev.vacancy.cli.asking.BulkWork;
import dev.vacancy.cli.asking.ByOptions;
import dev.vacancy.cli.asking.ChunkOptions;
import dev.vacancy.cli.asking.ColleagueOption;
import dev.vacancy.cli.configuration.DatabaseCommand;
import dev.vacancy.cli.configuration.Session;
import dev.vacancy.cli.selecting.HandOverOptions;
import dev.vacancy.cli.showing.BulkText;
import dev.vacancy.cli.showing.OutcomeText;
import dev.vacancy.cli.showing.PlanText;
import dev.vacancy.cli.terminal.ExitStatus;
import dev.vacancy.cli.terminal.JsonText;
import dev.vacancy.cli.terminal.Surroundings;
import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.internal.engine.Engine;
import dev.vacancy.retirement.Retired;
import dev.vacancy.rule.Ddl;
import dev.vacancy.rule.SoftDelete;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Removes soft-deleted records past their retention. */
@Command(
        name = "purge",
        mixinStandardHelpOptions = true,
        description =
                "Remove the soft-deleted records for good whose retention is over, of one table or of all that have a"
                        + " retention; and drop the columns and tables that have retired and are past theirs.")
public final class PurgeCommand extends DatabaseCommand {
    @Parameters(paramLabel = "TABLE", arity = "0..1", description = "The table; all with a retention if left out.")
    private String table;

    @Option(
            names = "--keep-in",
            paramLabel = "FOLDER",
            description = "Where definition and content of what is dropped are written before; retired if left out.")
    private Path folder = Path.of("retired");

    @Mixin
    private HandOverOptions handOver;

    @Option(names = "--yes", description = "Answer the question with yes.")
    private boolean yes;

    @Mixin
    private ColleagueOption colleague;

    @Mixin
    private ChunkOptions chunks;

    @Mixin
    private ByOptions by;

    public PurgeCommand(Surroundings surroundings) {
        super(surroundings);
    }

    @Override
    public int on(Session session) {
        chunks.validate();
        Vacancy vacancy = session.vacancy();
        List<Map<String, Object>> views = new ArrayList<>();
        int status = ExitStatus.NOTHING_MATCHED;
        List<Retired> due = table == null ? vacancy.retirements().due() : List.of();
        for (Table each : tables(vacancy, !due.isEmpty())) {
            Selection expired = vacancy.pastRetention(each.name()).skippingBlocked();
            Plan plan = vacancy.plan(handOver.on(expired, vacancy, each::equals), by.by());
            Map<String, Object> view = new LinkedHashMap<>();
            view.put("table", each.name());
            view.put("selected", plan.selected());
            view.put("counts", plan.counts());
            int end = purge(session, plan, view);
            views.add(view);
            status = together(status, end);
        }
        for (Retired each : due) {
            AskedRetirement asked = AskedRetirement.of(this, yes, colleague);
            Path base = surroundings().folder().resolve(folder);
            int end = asked.on(vacancy, vacancy.retirements().planDrop(each.id(), base, by.by()));
            views.add(asked.view());
            status = together(status, end);
        }
        if (json()) {
            print(JsonText.write(views));
        }
        return status;
    }

    private static int together(int status, int end) {
        if (end == ExitStatus.NOTHING_MATCHED) {
            return status;
        }
        return status == ExitStatus.NOTHING_MATCHED ? end : Math.max(status, end);
    }

    private List<Table> tables(Vacancy vacancy, boolean mayBeNone) {
        if (table != null) {
            return List.of(vacancy.catalog().table(table));
        }
        List<Table> tables = vacancy.catalog().tables().stream()
                .filter(each -> Optional.ofNullable(
                                Engine.rulesOf(vacancy).softness().tables().get(each))
                        .flatMap(SoftDelete::retention)
                        .isPresent())
                .toList();
        if (tables.isEmpty() && !mayBeNone) {
            throw ToolException.wrongUsage(
                    "No table has a retention, so nothing is ever purged.",
                    "Give one, such as 'deletes: {keeper: {soft: {retention: P15D}}}'.");
        }
        return tables;
    }

    private int purge(Session session, Plan plan, Map<String, Object> view) {
        view.put("run", null);
        view.put(
                "skipped",
                plan.skipped().stream().map(left -> left.root().key().text()).toList());
        if (plan.isEmpty() && !plan.skipped().isEmpty()) {
            view.put("status", "blocked");
            if (!json()) {
                print(PlanText.of(plan, paint()));
            }
            say("All of them are blocked. Nothing was purged.");
            return ExitStatus.BLOCKED;
        }
        if (plan.isEmpty()) {
            view.put("status", "nothing matched");
            if (!json()) {
                print("No deleted record of " + plan.table() + " is past its retention.");
            }
            return ExitStatus.NOTHING_MATCHED;
        }
        if (!json()) {
            print(PlanText.of(plan, paint()));
            print("");
        }
        if (plan.isBlocked()) {
            say("Blocked. Nothing was purged.");
            view.put("status", "blocked");
            return ExitStatus.BLOCKED;
        }
        boolean bulk = chunks.isFor(plan);
        Question question = bulk ? Question.aboutChunks(plan) : Question.about(plan);
        Optional<Approval> approval =
                new Asking(surroundings(), yes).ask(question.text(), question.typed(), question::answer);
        if (approval.isEmpty()) {
            say("Not approved. Nothing was purged.");
            view.put("status", "not approved");
            return ExitStatus.NOT_APPROVED;
        }
        if (bulk) {
            return inChunks(session, colleague.with(approval.get()), view);
        }
        Outcome outcome = session.vacancy().run(colleague.with(approval.get()));
        view.put("status", "done");
        view.put("run", outcome.runId().toString());
        if (!json()) {
            print(OutcomeText.of(outcome, paint()));
        }
        return outcome.skipped().isEmpty() ? ExitStatus.DONE : ExitStatus.SOME_FAILED;
    }

    private int inChunks(Session session, Approval approval, Map<String, Object> view) {
        BulkRuns runs = session.vacancy().bulk();
        session.makeTables(Ddl.Part.BULK_RUNS);
        UUID run = runs.start(approval, chunks.options()).runId();
        BulkRun end = new BulkWork(runs, chunks.options(), surroundings(), command("runs resume " + run))
                .on(run, Optional.empty());
        view.put("status", end.state().toString());
        view.put("run", run.toString());
        if (!json()) {
            print(BulkText.of(end, List.of()));
        }
        return BulkWork.exitStatus(end);
    }
}
