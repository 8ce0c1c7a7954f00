package dev.vacancy.internal.chunking;

import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.internal.trail.HoldsInForce;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;

/**
 * Deletes what is below a single record, from the leaves up, in many transactions: table by table, children before parents. At no
 * time is an orphan left. Records in circles, and those without a key, go with their parents.
 */
final class LeavesFirstDeletion {
    private final ChunkedRuns runs;
    private final RunConditions conditions;

    LeavesFirstDeletion(ChunkedRuns runs, RunConditions conditions) {
        this.runs = runs;
        this.conditions = conditions;
    }

    /**
     * Deletes all that is below a record but not the record itself.
     *
     * @param selection the record
     * @param size how many records go in one transaction, changing as it is told how long they take
     * @param goesOn whether to go on, asked before each transaction
     * @return false if it was told to stop
     * @throws dev.vacancy.BlockedException when records forbid the deletion, before anything is deleted
     */
    boolean delete(BulkRun run, Selection selection, ChunkSize size, BooleanSupplier goesOn) {
        Planner planner = runs.unholding();
        Planned planned =
                runs.state().transactions().reading(connection -> planner.preview(connection, selection, run.by()));
        planned.plan().refuseBlocked();
        Set<Table> circular = planner.rules().catalog().circular();
        for (Step step : planned.steps()) {
            boolean alone = step.table().equals(planned.plan().table())
                    || step.table().identity().isEmpty()
                    || circular.contains(step.table());
            if (step instanceof Step.Delete && !alone && !delete(run, step, size, goesOn)) {
                return false;
            }
        }
        return true;
    }

    private boolean delete(BulkRun run, Step step, ChunkSize size, BooleanSupplier goesOn) {
        while (goesOn.getAsBoolean()) {
            long start = System.nanoTime();
            Optional<HoldsInForce> holds = runs.runner().holds(runs.state().transactions());
            long deleted = runs.state().write(connection -> {
                List<Key> keys =
                        runs.unholding().keys(connection, step.table(), step.condition(), size.records(), true);
                if (keys.isEmpty()) {
                    return 0L;
                }
                Selection chunk = conditions
                        .select(Selection.of(step.table().name())
                                .keys(keys.stream().map(Key::values).toList()))
                        .hard();
                Plan plan = runs.runner()
                        .runChunk(chunk, run.by(), run.runId(), conditions.standing(), holds, connection, any -> {});
                runs.tables().count(connection, run.runId(), 0, 0, 0, plan.total());
                return plan.total();
            });
            if (deleted == 0) {
                return true;
            }
            size.took(System.nanoTime() - start);
        }
        return false;
    }
}
