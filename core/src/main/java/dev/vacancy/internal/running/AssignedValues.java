package dev.vacancy.internal.running;

import dev.vacancy.By;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.ColumnType;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.planning.Step;
import dev.vacancy.internal.request.LatestRow;
import dev.vacancy.internal.request.RowMarker;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.rule.SoftDelete;
import java.time.ZonedDateTime;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ThreadLocalRandom;
import org.jspecify.annotations.Nullable;

/**
 * What a run sets columns of records to that stay, as far as it is known beforehand.
 *
 * @since 0.1
 */
public final class AssignedValues {
    private static final String STAND_IN = "*** ";

    private final Rules rules;
    private final By by;
    private final ZonedDateTime now;
    private final String standIn =
            STAND_IN + Integer.toHexString(ThreadLocalRandom.current().nextInt());

    /**
     * Knows what a run is of.
     *
     * @param rules say how records are marked
     * @param by who wants it, and why
     * @param now the moment
     */
    public AssignedValues(Rules rules, By by, ZonedDateTime now) {
        this.rules = rules;
        this.by = by;
        this.now = now;
    }

    /**
     * Tells what columns are set to.
     *
     * @param step the step
     * @return a value of the column's type for each, or null; nothing where records go
     */
    public Map<Column, @Nullable Object> of(Step step) {
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

    /** {@return what the database holds, with the links that the rules declare} */
    public DatabaseCatalog catalog() {
        return rules.catalog();
    }

    /**
     * Tells which column counts the changes of a table's records.
     *
     * @param table the table
     * @return the column; empty where none does
     */
    public Optional<Column> version(Table table) {
        return Optional.ofNullable(rules.softness().versions().get(table));
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
}
