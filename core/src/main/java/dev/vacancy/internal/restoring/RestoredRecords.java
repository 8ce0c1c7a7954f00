package dev.vacancy.internal.restoring;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Selection;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.EntryReader.StepOf;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.RunNumber;
import dev.vacancy.internal.trail.RunsAsked;
import dev.vacancy.internal.trail.StoredEntry;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailStore;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.function.BiFunction;

/** Selects again what a restore has brought back, so that it can be deleted like anything else: planned, and asked about. */
final class RestoredRecords {
    private final Rules rules;
    private final TrailStore store;
    private final BiFunction<Table, List<StoredEntry>, List<Key>> there;

    /**
     * Selects nothing yet.
     *
     * @param store where the trail is kept
     * @param there finds the keys of those records of entries that are there
     */
    RestoredRecords(Rules rules, TrailStore store, BiFunction<Table, List<StoredEntry>, List<Key>> there) {
        this.rules = rules;
        this.store = store;
        this.there = there;
    }

    /**
     * Selects the records that the undone run had selected, as far as the restore brought them back and they are there.
     *
     * @param restore the restore's id
     * @return the selection; for good where they had gone for good
     * @throws InvalidRequestException when there is no such restore, or nothing of it is left
     */
    Selection by(UUID restore) {
        List<StoredRun> portions = restores(restore);
        RunFacts facts = portions.get(portions.size() - 1).facts();
        Optional<RecordInTrail> only = facts.kind() == RunKind.PART_RESTORE
                ? Optional.of(RecordInTrail.of(facts.selection(), rules.catalog()))
                : Optional.empty();
        Table table = rules.catalog().table(only.map(RecordInTrail::table).orElse(facts.table()));
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

    private void collect(UUID restore, Optional<RecordInTrail> only, Table table, Set<Key> keys) {
        store.each(RunNumber.of(restore), portion -> {
            List<StoredEntry> back = portion.stream()
                    .filter(entry -> entry.table().equals(table.name()))
                    .toList();
            List<StoredEntry> gone = gone(only, back);
            if (!gone.isEmpty()) {
                keys.addAll(there.apply(table, gone));
            }
        });
    }

    /** The restore, or its portions, the last one last. */
    private List<StoredRun> restores(UUID id) {
        List<StoredRun> restores = new ArrayList<>(store.runs(RunsAsked.of(id)));
        Collections.reverse(restores);
        if (restores.isEmpty()) {
            throw UndoneRuns.unknown(id);
        }
        RunKind kind = restores.get(0).facts().kind();
        if (kind.restores()) {
            return restores;
        }
        throw new InvalidRequestException(
                FailureCode.RUN_STATE,
                "Run " + id + " is no restore but " + UndoneRuns.article(kind) + ".",
                "Plan a restore of it, where it is a deletion.");
    }

    private List<UUID> runs(UUID run) {
        return store.runs(RunsAsked.of(run)).stream()
                .map(each -> each.facts().runId())
                .toList();
    }

    /** A record that had stayed, and only its link was put back, stays. */
    private List<StoredEntry> gone(Optional<RecordInTrail> only, List<StoredEntry> portion) {
        return store.originals(portion).values().stream()
                .filter(entry -> entry.action().removes())
                .filter(entry -> only.map(one -> one.key().equals(entry.key())).orElse(true))
                .toList();
    }

    private boolean wentForGood(List<UUID> undone, Table table) {
        for (UUID run : undone) {
            for (StepOf step : store.steps(run)) {
                if (step.table().equals(table.name()) && step.action().isDeletion()) {
                    return true;
                }
            }
        }
        return false;
    }
}
