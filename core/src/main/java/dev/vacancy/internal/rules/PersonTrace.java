package dev.vacancy.internal.rules;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What is known of the persons that records of a table stand for, and what an erasure does with it.
 *
 * @param table the table
 * @param knownBy the columns whose text is looked for
 * @param places where it is looked for
 * @param clauses what becomes of children on a link, before what the rules say of any deletion
 * @param kept why the record itself stays; empty if it goes
 * @param masked the columns of it that are masked then
 */
public record PersonTrace(
        Table table,
        List<Column> knownBy,
        List<TextPlace> places,
        Map<Link, List<LinkRule>> clauses,
        Optional<String> kept,
        List<Column> masked) {
    /** Keeps its own copies. */
    public PersonTrace {
        knownBy = List.copyOf(knownBy);
        places = List.copyOf(places);
        clauses = Map.copyOf(clauses);
        masked = List.copyOf(masked);
    }

    /**
     * A column of text in which somebody may have written about a person.
     *
     * @param table its table
     * @param column the column
     * @param kept why it is left as it is; empty if it is masked
     */
    public record TextPlace(Table table, Column column, Optional<String> kept) {
        @Override
        public String toString() {
            return table.name() + "." + column.name();
        }
    }

    /**
     * Returns what is known of a record where the rules say nothing of it: what links lead to.
     *
     * @param table the record's table
     * @return a trace without texts
     */
    static PersonTrace byLinks(Table table) {
        return new PersonTrace(table, List.of(), List.of(), Map.of(), Optional.empty(), List.of());
    }
}
