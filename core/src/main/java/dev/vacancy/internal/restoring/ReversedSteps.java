package dev.vacancy.internal.restoring;

import dev.vacancy.catalog.Link;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.EntryReader.StepOf;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.UUID;

/** The steps of some runs in the order in which they are undone: the last one first. */
final class ReversedSteps {
    private final List<Taken> steps;
    private final List<Span> together;

    private record Taken(UUID run, StepOf step) {
        /** The table whose records come back; an empty text where none do. */
        String table() {
            return step.action().isDeletion() ? step.table() : "";
        }
    }

    /** Some steps that only come back together, as records of an earlier one point at those of a later one. */
    private record Span(int first, int last) {
        boolean isOpenAt(int step, long after) {
            return step <= last && (step > first || (step == first && after > 0));
        }
    }

    private ReversedSteps(List<Taken> steps, DatabaseCatalog catalog) {
        this.steps = steps;
        List<String> tables = steps.stream().map(Taken::table).toList();
        this.together = catalog.links().stream()
                .filter(Link::declared)
                .map(link -> new Span(
                        tables.indexOf(link.child().name()),
                        tables.lastIndexOf(link.parent().name())))
                .filter(span -> span.first() >= 0 && span.last() >= span.first())
                .toList();
    }

    /**
     * Reads the steps.
     *
     * @param runs what is undone, the last one first
     */
    static ReversedSteps of(EntryReader reader, Connection connection, List<UUID> runs, DatabaseCatalog catalog)
            throws SQLException {
        List<Taken> steps = new ArrayList<>();
        for (UUID run : runs) {
            List<StepOf> own = new ArrayList<>(reader.steps(connection, run));
            Collections.reverse(own);
            own.forEach(step -> steps.add(new Taken(run, step)));
        }
        return new ReversedSteps(steps, catalog);
    }

    int size() {
        return steps.size();
    }

    UUID run(int step) {
        return steps.get(step).run();
    }

    StepOf step(int step) {
        return steps.get(step).step();
    }

    /** The tables that records of come back to, from one step on. */
    List<String> tablesFrom(int step) {
        return steps.subList(step, steps.size()).stream()
                .map(Taken::table)
                .filter(table -> !table.isEmpty())
                .toList();
    }

    /** Whether what came back up to there can stand without the rest. */
    boolean mayEndAt(Restorer.Place end) {
        return together.stream().noneMatch(span -> span.isOpenAt(end.step(), end.after()));
    }
}
