package dev.vacancy.internal.chunking;

import dev.vacancy.Selection;
import dev.vacancy.bulk.BulkRun;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.planning.Planned;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.internal.running.Runner;
import dev.vacancy.internal.trail.HoldsInForce;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
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
    private final BulkRun run;
    private final ClaimedRecord claimed;
    private final Map<String, Long> deleted = new LinkedHashMap<>();
    private Begun begun;

    /**
     * Prepares to delete what is below a record.
     *
     * @param claimed the record
     */
    LeavesFirstDeletion(ChunkedRuns runs, RunConditions conditions, BulkRun run, ClaimedRecord claimed) {
        this.runs = runs;
        this.conditions = conditions;
        this.run = run;
        this.claimed = claimed;
        this.begun = claimed.begun();
    }

    /**
     * Deletes all that is below the record but not the record itself.
     *
     * @param size how many records go in one transaction, changing as it is told how long they take
     * @param goesOn whether to go on, asked before each transaction
     * @return false if it was told to stop
     * @throws dev.vacancy.BlockedException when records forbid the deletion, before anything is deleted
     */
    boolean delete(ChunkSize size, BooleanSupplier goesOn) {
        Planner planner = runs.unholding();
        Selection selection = conditions.select(Selection.of(run.table()).keys(List.of(claimed.key())));
        Planned planned = runs.state()
                .transactions()
                .reading(connection -> planner.on(connection).preview(selection, run.by()));
        planned.plan().refuseBlocked();
        Set<Table> circular = planner.rules().catalog().circular();
        for (Step step : planned.steps()) {
            boolean alone = step.table().equals(planned.plan().table())
                    || step.table().identity().isEmpty()
                    || circular.contains(step.table());
            if (step instanceof Step.Delete && !alone && !delete(step, size, goesOn)) {
                return false;
            }
        }
        return true;
    }

    private boolean delete(Step step, ChunkSize size, BooleanSupplier goesOn) {
        while (goesOn.getAsBoolean()) {
            long start = System.nanoTime();
            Optional<HoldsInForce> holds = runs.runner().holds(runs.state().transactions());
            Optional<Part> part = runs.state().write(connection -> {
                List<Key> keys = runs.unholding()
                        .on(connection)
                        .reader()
                        .keys(step.table(), step.condition(), size.records(), true);
                return keys.isEmpty() ? Optional.empty() : Optional.of(delete(step.table(), keys, holds, connection));
            });
            if (part.isEmpty()) {
                return true;
            }
            begun = part.get().begun();
            part.get().deleted().forEach((table, count) -> deleted.merge(table, count, Long::sum));
            size.took(System.nanoTime() - start);
        }
        return false;
    }

    /** What one transaction has deleted, and what stands beside the record now. */
    private record Part(Map<String, Long> deleted, Begun begun) {}

    private Part delete(Table table, List<Key> keys, Optional<HoldsInForce> holds, Connection connection)
            throws SQLException {
        Selection chunk = conditions
                .select(Selection.of(table.name())
                        .keys(keys.stream().map(Key::values).toList()))
                .hard();
        try {
            Runner.ChunkPart part = runs.runner()
                    .runChunk(
                            chunk,
                            run.by(),
                            run.runId(),
                            conditions.standing(),
                            holds,
                            connection,
                            planned -> Chunk.Unannounced.refuse(planned, List.of(begun)));
            Map<String, Long> sum = new LinkedHashMap<>(deleted);
            part.deleted().forEach((name, count) -> sum.merge(name, count, Long::sum));
            Begun done = claimed.begun().with(sum, 0);
            // More of the same may follow, and is begun by that.
            Begun noted = part.plan().onOtherServers().contains(table.name()) ? done.announcing(table.name()) : done;
            runs.tables().begin(connection, run.runId(), claimed, noted);
            runs.tables()
                    .count(
                            connection,
                            run.runId(),
                            0,
                            0,
                            0,
                            part.deleted().values().stream()
                                    .mapToLong(Long::longValue)
                                    .sum());
            return new Part(part.deleted(), noted);
        } catch (Chunk.Unannounced beginning) {
            Begun noted = begun.announcing(beginning.table());
            runs.tables().begin(connection, run.runId(), claimed, noted);
            return new Part(Map.of(), noted);
        }
    }
}
