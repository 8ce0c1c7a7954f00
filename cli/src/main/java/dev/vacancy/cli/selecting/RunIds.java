package dev.vacancy.cli.selecting;

import dev.vacancy.cli.terminal.ToolException;
import dev.vacancy.history.TrailRun;
import java.util.List;
import java.util.UUID;
import java.util.stream.Stream;

/** Finds a run of the audit trail by its id, or by the beginning of it. */
public final class RunIds {
    private static final int WHOLE = 36;

    private RunIds() {}

    /** The newest run that can be undone. */
    public static UUID last(List<TrailRun> runs) {
        List<UUID> undone = runs.stream()
                .filter(run -> run.kind().equals("restore"))
                .flatMap(run -> run.about().stream())
                .toList();
        return runs.stream()
                .filter(run -> run.kind().equals("deletion") || run.kind().equals("purge"))
                .map(run -> run.partOf().orElse(run.runId()))
                .filter(id -> !undone.contains(id))
                .findFirst()
                .orElseThrow(() -> ToolException.wrongUsage(
                        "There is no run that could be undone.", "'history' lists what happened."));
    }

    public static UUID find(String given, List<TrailRun> runs, String what) {
        if (given.length() == WHOLE) {
            try {
                return UUID.fromString(given);
            } catch (IllegalArgumentException none) {
                throw ToolException.wrongUsage("'" + given + "' is no id of " + what + ".", "'history' lists them.");
            }
        }
        List<UUID> found = runs.stream()
                .flatMap(run -> Stream.concat(Stream.of(run.runId()), run.partOf().stream()))
                .distinct()
                .filter(id -> id.toString().startsWith(given))
                .toList();
        if (found.size() != 1) {
            throw ToolException.wrongUsage(
                    (found.isEmpty() ? "No id of " + what + " begins" : found.size() + " ids of " + what + "s begin")
                            + " with '" + given + "'.",
                    "'history' lists them.");
        }
        return found.get(0);
    }
}
