package dev.vacancy.internal.restoring;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.internal.trail.RunFacts;
import dev.vacancy.internal.trail.RunKind;
import dev.vacancy.internal.trail.RunsAsked;
import dev.vacancy.internal.trail.StoredRun;
import dev.vacancy.internal.trail.TrailStore;
import java.util.List;
import java.util.Optional;
import java.util.UUID;

/**
 * What is undone: a run, or all runs of a bulk run.
 *
 * @param id the id of the run, or of the bulk run
 * @param recorded the last one as it stands in the trail
 * @param runs the ids of all of them, the last one first
 * @param only one record of them; empty for all
 * @param parts the restores of parts of them before
 */
record UndoneRuns(UUID id, StoredRun recorded, List<UUID> runs, Optional<RecordInTrail> only, List<UUID> parts) {
    /**
     * Finds them.
     *
     * @throws InvalidRequestException when there is no such run, it was no deletion, or it was undone already
     */
    static UndoneRuns of(TrailStore store, UUID run, Optional<RecordInTrail> only) {
        List<StoredRun> found = store.runs(RunsAsked.of(run));
        if (found.isEmpty()) {
            throw unknown(run);
        }
        StoredRun last = found.get(0);
        RunKind kind = last.facts().kind();
        if (!kind.removes()) {
            throw refusal(
                    "Run " + run + " is no deletion but " + article(kind) + ".",
                    kind.restores()
                            ? "To undo it, plan a deletion of what it brought back: History.undoing selects that."
                            : "It can't be undone.");
        }
        List<StoredRun> about = store.runs(RunsAsked.about(run));
        for (StoredRun restored : about) {
            RunFacts restore = restored.facts();
            if (restore.kind() == RunKind.RESTORE) {
                throw refusal(
                        "Run " + run + " was undone by " + restore.actor() + " at " + restore.at() + ", with run "
                                + restore.partOf().orElse(restore.runId()) + ".",
                        "If its records are gone again, restore the run that removed them.");
            }
        }
        List<StoredRun> parts =
                about.stream().filter(part -> part.facts().kind().restores()).toList();
        return new UndoneRuns(run, last, ids(found), only, ids(parts));
    }

    private static List<UUID> ids(List<StoredRun> runs) {
        return runs.stream().map(run -> run.facts().runId()).toList();
    }

    static InvalidRequestException unknown(UUID run) {
        return new InvalidRequestException(
                        FailureCode.UNKNOWN_RUN,
                        "The audit trail has no run " + run + ".",
                        "Ask the history which there are.")
                .about("run", run);
    }

    InvalidRequestException withoutRecord() {
        return new InvalidRequestException(
                FailureCode.UNKNOWN_RUN,
                "Run " + recorded.facts().runId() + " knows nothing of " + only.orElseThrow() + ".",
                "Ask the history what it did.");
    }

    static String article(RunKind kind) {
        return (List.of('a', 'e', 'u').contains(kind.word().charAt(0)) ? "an " : "a ") + kind.word();
    }

    /** Refuses what has no way back. */
    private static InvalidRequestException refusal(String what, String remedy) {
        return new InvalidRequestException(FailureCode.RUN_STATE, what, remedy);
    }
}
