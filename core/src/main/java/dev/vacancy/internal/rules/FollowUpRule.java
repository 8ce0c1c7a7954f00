package dev.vacancy.internal.rules;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Table;
import java.util.List;

/**
 * What follows outside of the database when something happens to records of a table.
 *
 * @param name the name by which a handler takes it
 * @param table the table
 * @param columns the columns that are handed over
 */
public record FollowUpRule(String name, Table table, List<Column> columns) {
    /** Keeps its own copy of the list. */
    public FollowUpRule {
        columns = List.copyOf(columns);
    }
}
