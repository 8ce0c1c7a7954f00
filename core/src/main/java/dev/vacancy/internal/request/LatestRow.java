package dev.vacancy.internal.request;

import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogColumn;
import dev.vacancy.internal.catalog.CatalogTable;
import java.time.LocalDate;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Marks by rows that follow each other: of those with the same key the newest holds, and the others are its history. Deleting
 * one appends a row that closes it, a copy with the start of now and a closing value.
 *
 * <pre>{@code
 * // placement: keeper_id, from_date, apiary_id; without an apiary the keeper is nowhere
 * RuleBook.bySchema().marker("placement", Marker.latestRow("from_date", "apiary_id", "keeper_id"))
 * }</pre>
 *
 * @param key the columns that the rows of one key have in common, at least one
 * @param column the column that says from when on a row holds
 * @param closing the column that tells a closing row
 * @param closed what a closing row has there; empty for null
 * @since 0.1
 */
public record LatestRow(List<String> key, String column, String closing, Optional<Object> closed) implements RowMarker {
    /** Keeps its own copy of the list. */
    public LatestRow {
        key = List.copyOf(key);
    }

    @Override
    public Criteria active(Table table) {
        requireOrder(table);
        return open(table).and(followed(table, Optional.empty()).not());
    }

    /** The rows that held until they were closed: neither the closing rows nor what was history by then. */
    @Override
    public Optional<Criteria> deleted(Table table) {
        return Optional.of(open(table)
                .and(followed(table, Optional.empty()))
                .and(followed(table, Optional.of(open(table))).not()));
    }

    /** All rows of what was closed by then, and hasn't been opened again. */
    @Override
    public Criteria deletedBy(Table table, Optional<String> stamp, Object end) {
        Criteria closing = Criteria.column(column)
                .atMost(end)
                .and(followed(table, Optional.empty()).not());
        return new CriteriaNode.Sibling(
                key, Optional.empty(), Optional.of(closed(table).and(closing)));
    }

    /**
     * Returns what picks the rows that held on a day, and were no closing rows.
     *
     * @param table the table
     * @param day the day, as it begins
     * @return the criteria
     */
    public Criteria activeAsOf(Table table, LocalDate day) {
        Criteria begun = Criteria.column(column).atMost(day);
        return open(table).and(begun).and(followed(table, Optional.of(begun)).not());
    }

    /**
     * Returns what picks all rows but closing ones.
     *
     * @param table the table
     * @return the criteria
     */
    public Criteria open(Table table) {
        if (closed.isEmpty()) {
            return Criteria.column(closing).isNotNull();
        }
        Criteria other = Criteria.column(closing).notEqualTo(closed.get());
        return table.column(closing).nullable()
                ? Criteria.column(closing).isNull().or(other)
                : other;
    }

    /**
     * Returns what picks the closing rows.
     *
     * @param table the table
     * @return the criteria
     */
    public Criteria closed(Table table) {
        return closed.map(value -> Criteria.column(closing).equalTo(value))
                .orElseGet(() -> Criteria.column(closing).isNull());
    }

    private Criteria followed(Table table, Optional<Criteria> that) {
        return new CriteriaNode.Sibling(key, Optional.of(table.column(column).name()), that);
    }

    @Override
    public Object mark(Table table, ZonedDateTime now) {
        Column start = table.column(column);
        for (ChronoUnit unit : List.of(ChronoUnit.MICROS, ChronoUnit.MILLIS)) {
            Object moment = RowMarker.timeIn(start, now, unit);
            if (CatalogColumn.of(start).holds(moment)) {
                return moment;
            }
        }
        return RowMarker.timeIn(start, now);
    }

    /**
     * Returns what a closing row has in its own column.
     *
     * @param table the table
     * @return a value of the column's type; empty for null
     */
    public Optional<Object> closing(Table table) {
        return closed.map(value -> CatalogTable.of(table).convert(table.column(closing), value));
    }

    /**
     * Returns the columns that a closing row takes over.
     *
     * @param table the table
     * @return all but those that the database fills by itself
     */
    public List<Column> copied(Table table) {
        return table.columns().stream()
                .filter(column ->
                        !column.generated() && !CatalogColumn.of(column).numbered())
                .toList();
    }

    /** Two rows that begin at the same time have no order, and a closing row must not clash with what it closes. */
    private void requireOrder(Table table) {
        Column start = RowMarker.timeOf(table, column);
        List<Column> ordered = new ArrayList<>(List.of(start));
        key.forEach(name -> ordered.add(table.column(name)));
        ordered.stream().filter(Column::nullable).findFirst().ifPresent(nullable -> {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    table + "." + nullable + " may be null, and rows without it would follow no other.",
                    "Make it not null, or mark in another way.");
        });
        List<List<Column>> unique = new ArrayList<>(table.uniqueKeys());
        unique.add(table.primaryKey());
        if (unique.stream()
                .noneMatch(columns ->
                        columns.contains(start) && Set.copyOf(ordered).containsAll(columns))) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    "two rows of " + table + " with the same " + String.join(", ", key)
                            + " may begin at the same time, so there may be no latest one.",
                    "Make these columns and " + start + " unique together.");
        }
        for (List<Column> columns : unique) {
            if (columns.stream()
                            .noneMatch(each ->
                                    each.equals(start) || CatalogColumn.of(each).numbered() || isClosing(each))
                    && !columns.isEmpty()) {
                throw new InvalidRequestException(
                        FailureCode.RULES,
                        "a closing row of " + table + " would have the same unique " + columns.get(0)
                                + " as the row that it closes.",
                        "Make it unique together with " + start + ", or mark in another way.");
            }
        }
        if (closed.isEmpty() && !table.column(closing).nullable()) {
            throw new InvalidRequestException(
                    FailureCode.RULES,
                    table + "." + table.column(closing) + " may not be null, so nothing would tell a closing row.",
                    "Say what a closing row has there, or name a column that may be null.");
        }
        closing(table);
    }

    /** Many rows may have a null in a unique column. */
    private boolean isClosing(Column each) {
        return closed.isEmpty() && each.name().equals(closing);
    }
}
