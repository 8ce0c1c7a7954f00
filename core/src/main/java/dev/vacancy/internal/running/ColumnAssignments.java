package dev.vacancy.internal.running;

import dev.vacancy.By;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogColumn;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.dialect.Fragment;
import dev.vacancy.internal.dialect.Statements;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.request.RowMarker;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.Image;
import dev.vacancy.rule.SoftDelete;
import java.time.ZonedDateTime;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ThreadLocalRandom;

/** What a run sets columns of records to that stay. */
final class ColumnAssignments {
    private static final String STAND_IN = "*** ";
    private static final Fragment NULL = Fragment.of("null");

    private final Rules rules;
    private final Dialect dialect;
    private final By by;
    private final ZonedDateTime now;
    private final String standIn =
            STAND_IN + Integer.toHexString(ThreadLocalRandom.current().nextInt());

    ColumnAssignments(Rules rules, Dialect dialect, By by, ZonedDateTime now) {
        this.rules = rules;
        this.dialect = dialect;
        this.by = by;
        this.now = now;
    }

    /** What each column is set to, by column; nothing for a deletion. */
    Map<Column, Fragment> columns(Step step) {
        Map<Column, Fragment> columns = new LinkedHashMap<>();
        if (step instanceof Step.Detach detach) {
            detach.columns().forEach(column -> columns.put(column, NULL));
        } else if (step instanceof Step.Loosen loosen) {
            loosen.columns().forEach(column -> columns.put(column, NULL));
        } else if (step instanceof Step.Reset reset) {
            reset.columns()
                    .forEach(column -> columns.put(
                            column,
                            dialect.defaultOf(
                                    CatalogColumn.of(column).declaredDefault().orElse(null))));
        } else if (step instanceof Step.Reassign || step instanceof Step.Mark || step instanceof Step.Touch) {
            values(step)
                    .forEach((column, value) -> columns.put(
                            column, value == null ? NULL : dialect.codec(column).stored(value)));
        }
        Column version = rules.softness().versions().get(step.table());
        if (version != null && !columns.isEmpty() && !(step instanceof Step.Loosen)) {
            columns.put(version, Fragment.of("coalesce(" + dialect.name(Statements.alias(), version) + ", 0) + 1"));
        }
        return columns;
    }

    /** The values among them that are known beforehand. */
    private Map<Column, Object> values(Step step) {
        Map<Column, Object> values = new LinkedHashMap<>();
        if (step instanceof Step.Detach detach) {
            detach.columns().forEach(column -> values.put(column, null));
        } else if (step instanceof Step.Reassign reassign) {
            for (int i = 0; i < reassign.columns().size(); i++) {
                values.put(reassign.columns().get(i), reassign.values().get(i));
            }
        } else if (step instanceof Step.Mark mark) {
            if (rules.maskedIn(mark.table()).isEmpty()) {
                mark(mark.table(), values);
            } else {
                rules.maskedIn(mark.table()).forEach(column -> values.put(column, standIn(column)));
            }
        } else if (step instanceof Step.Touch touch) {
            Rules.Modified modified = rules.softness().modified().get(touch.table());
            modified.by().ifPresent(column -> values.put(column, fitting(column, by.actor())));
            modified.at().ifPresent(column -> values.put(column, RowMarker.timeIn(column, now)));
        }
        return values;
    }

    private void mark(Table table, Map<Column, Object> values) {
        RowMarker marker = rules.softness().markers().get(table);
        SoftDelete soft = rules.softness().tables().get(table);
        values.put(table.column(marker.column()), marker.mark(table, now));
        if (marker instanceof LatestRow latest) {
            values.put(table.column(latest.closing()), latest.closing(table).orElse(null));
        }
        soft.timeColumn()
                .map(table::column)
                .ifPresent(column -> values.putIfAbsent(column, RowMarker.timeIn(column, now)));
        soft.actorColumn().map(table::column).ifPresent(column -> values.put(column, fitting(column, by.actor())));
        soft.reasonColumn()
                .map(table::column)
                .ifPresent(column -> values.put(
                        column,
                        by.reason().map(reason -> fitting(column, reason)).orElse(null)));
    }

    /** What may be empty is; and of two persons who are forgotten none has the name of the other. */
    private String standIn(Column column) {
        return column.nullable() ? null : fitting(column, standIn);
    }

    /** A stamp is a note; one that is too long for its column is cut rather than refused. */
    private static String fitting(Column column, String text) {
        int most = ColumnType.of(column).size();
        return most > 0 && text.length() > most ? text.substring(0, most) : text;
    }

    /** What the trail says that columns are set to; empty where records go. */
    Optional<String> altered(Step step) {
        if (step instanceof Step.Delete || step instanceof Step.Loosen) {
            return Optional.empty();
        }
        Map<String, Object> altered = new LinkedHashMap<>();
        values(step)
                .forEach((column, value) ->
                        altered.put(column.name(), value == null ? null : ColumnType.spelling(value)));
        if (step instanceof Step.Reset reset) {
            reset.columns().forEach(column -> altered.put(column.name(), null));
        }
        return Optional.of(Image.write(altered));
    }
}
