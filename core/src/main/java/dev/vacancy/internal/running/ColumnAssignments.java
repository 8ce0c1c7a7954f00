package dev.vacancy.internal.running;

import dev.vacancy.catalog.Column;
import dev.vacancy.internal.catalog.CatalogColumn;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.internal.trail.Image;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/** Renders what a run sets columns to. */
final class ColumnAssignments {
    private static final Fragment NULL = Fragment.of("null");

    private final Dialect dialect;
    private final AssignedValues assigned;

    ColumnAssignments(Dialect dialect, AssignedValues assigned) {
        this.dialect = dialect;
        this.assigned = assigned;
    }

    /** What each column is set to, by column; nothing for a deletion. */
    Map<Column, Fragment> columns(Step step) {
        Map<Column, Fragment> columns = new LinkedHashMap<>();
        if (step instanceof Step.Loosen loosen) {
            loosen.columns().forEach(column -> columns.put(column, NULL));
            return columns;
        }
        if (step instanceof Step.Reset reset) {
            reset.columns()
                    .forEach(column -> columns.put(
                            column,
                            dialect.defaultOf(
                                    CatalogColumn.of(column).declaredDefault().orElse(null))));
        }
        assigned.of(step)
                .forEach((column, value) -> columns.put(
                        column, value == null ? NULL : dialect.codec(column).stored(value)));
        if (!columns.isEmpty()) {
            assigned.version(step.table())
                    .ifPresent(version -> columns.put(
                            version,
                            Fragment.of("coalesce(" + dialect.name(Statements.alias(), version) + ", 0) + 1")));
        }
        return columns;
    }

    /** What the trail says that columns are set to; empty where records go. */
    Optional<String> altered(Step step) {
        if (step instanceof Step.Delete || step instanceof Step.Loosen) {
            return Optional.empty();
        }
        Map<String, Object> altered = new LinkedHashMap<>();
        assigned.of(step)
                .forEach((column, value) ->
                        altered.put(column.name(), value == null ? null : ColumnType.spelling(value)));
        if (step instanceof Step.Reset reset) {
            reset.columns().forEach(column -> altered.put(column.name(), null));
        }
        return Optional.of(Image.write(altered));
    }
}
