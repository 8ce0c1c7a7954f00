package dev.vacancy.internal.restoring;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Selection;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.planning.Planner;
import dev.vacancy.internal.restoring.Restores.Only;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.EntryReader.StepOf;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;

/** Selects again what a restore has brought back, so that it can be deleted like anything else: planned, and asked about. */
final class RestoredRecords {
    private final Planner planner;
    private final TrailTables tables;
    private final EntryReader reader;
    private final Connection connection;

    RestoredRecords(Planner planner, TrailTables tables, Connection connection) {
        this.planner = planner;
        this.tables = tables;
        this.reader = new EntryReader(tables);
        this.connection = connection;
    }

    /**
     * Selects the records that the undone run had selected, as far as the restore brought them back and they are there.
     *
     * @param restore the restore's id
     * @return the selection; for good where they had gone for good
     * @throws InvalidRequestException when there is no such restore, or nothing of it is left
     */
    Selection by(UUID restore) throws SQLException {
        List<StoredRun> portions = restores(restore);
        RunFacts facts = portions.get(portions.size() - 1).facts();
        Rules rules = planner.rules();
        Optional<Only> only = facts.kind() == RunKind.PART_RESTORE
                ? Optional.of(Only.of(facts.selection(), rules.catalog()))
                : Optional.empty();
        Table table = rules.catalog().table(only.map(Only::table).orElse(facts.table()));
        List<UUID> undone = runs(facts.about().orElseThrow());
        Set<Key> keys = new LinkedHashSet<>();
        for (StoredRun portion : portions) {
            collect(portion.facts().runId(), only, table, keys);
        }
        if (keys.isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.RUN_STATE,
                    "Nothing of what run " + restore + " brought back to " + table + " is there any more.",
                    "Ask the history what became of it.");
        }
        Selection selection =
                Selection.of(table.name()).keys(keys.stream().map(Key::values).toList());
        return rules.softness().tables().containsKey(table) && wentForGood(undone, table)
                ? selection.hard()
                : selection;
    }

    private void collect(UUID restore, Optional<Only> only, Table table, Set<Key> keys) throws SQLException {
        for (StepOf step : reader.steps(connection, restore)) {
            if (step.table().equals(table.name())) {
                reader.each(
                        connection, restore, step.number(), portion -> keys.addAll(keys(table, gone(only, portion))));
            }
        }
    }

    /** The restore, or its portions, the last one last. */
    private List<StoredRun> restores(UUID id) throws SQLException {
        List<StoredRun> restores =
                tables.runs(connection, "run_id = ? or part_of = ? order by place", id.toString(), id.toString());
        if (restores.isEmpty()) {
            throw Restores.unknown(id);
        }
        RunKind kind = restores.get(0).facts().kind();
        if (kind.restores()) {
            return restores;
        }
        throw new InvalidRequestException(
                FailureCode.RUN_STATE,
                "Run " + id + " is no restore but " + Restores.article(kind) + ".",
                "Plan a restore of it, where it is a deletion.");
    }

    private List<UUID> runs(UUID run) throws SQLException {
        return tables.runs(connection, "run_id = ? or part_of = ?", run.toString(), run.toString()).stream()
                .map(each -> each.facts().runId())
                .toList();
    }

    /** A record that had stayed, and only its link was put back, stays. */
    private List<StoredEntry> gone(Optional<Only> only, List<StoredEntry> portion) throws SQLException {
        return reader.originals(connection, portion).values().stream()
                .filter(entry -> entry.action().removes())
                .filter(entry -> only.map(one -> one.key().equals(entry.key())).orElse(true))
                .toList();
    }

    private List<Key> keys(Table table, List<StoredEntry> entries) {
        List<List<Object>> images = new ArrayList<>();
        for (StoredEntry entry : entries) {
            Map<String, Object> image = entry.image().orElse(Map.of());
            List<Object> key = new ArrayList<>();
            table.identity().forEach(column -> key.add(image.get(column.name())));
            if (!key.contains(null)) {
                images.add(key);
            }
        }
        return images.isEmpty()
                ? List.of()
                : planner.on(connection)
                        .reader()
                        .keys(table, new Condition.Pictured(table.identity(), images), Integer.MAX_VALUE, false);
    }

    private boolean wentForGood(List<UUID> undone, Table table) throws SQLException {
        for (UUID run : undone) {
            for (StepOf step : reader.steps(connection, run)) {
                if (step.table().equals(table.name()) && step.action().isDeletion()) {
                    return true;
                }
            }
        }
        return false;
    }
}
