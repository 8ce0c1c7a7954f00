package dev.vacancy.internal.request;

import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Moment;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/** The parts of a criteria. */
public sealed interface CriteriaNode extends Criteria {
    /**
     * Compares a column with a value.
     *
     * @param column the column's name, with the way to it in front where it is a parent's
     * @param comparison how
     * @param value the value: of the column's type, or as text, or a {@link Moment}
     */
    record Compares(String column, Comparison comparison, Object value) implements CriteriaNode {
        @Override
        public String toString() {
            return column + " " + comparison.sql() + " " + literal(value);
        }
    }

    /**
     * Picks the records whose column has one of several values.
     *
     * @param column the column's name
     * @param values at least one, none of them null
     */
    record In(String column, List<Object> values) implements CriteriaNode {
        /** Refuses an empty list: it would pick nothing, and its contrary everything. */
        public In {
            if (values.isEmpty() || values.contains(null)) {
                throw new InvalidRequestException(
                        FailureCode.MISSING_VALUE,
                        "The list of values for " + column + " is empty or has a null in it.",
                        "Give at least one value; null is asked for by IS NULL.");
            }
            values = List.copyOf(values);
        }

        @Override
        public String toString() {
            return column + values.stream().map(CriteriaNode::literal).collect(Collectors.joining(", ", " in (", ")"));
        }
    }

    /**
     * Compares a column with a pattern of SQL's LIKE.
     *
     * @param column the column's name
     * @param pattern {@code %} stands for any text, {@code _} for any character
     */
    record Like(String column, String pattern) implements CriteriaNode {
        @Override
        public String toString() {
            return column + " like " + literal(pattern);
        }
    }

    /**
     * Picks the records whose column is null.
     *
     * @param column the column's name
     */
    record IsNull(String column) implements CriteriaNode {
        @Override
        public String toString() {
            return column + " is null";
        }
    }

    /**
     * Picks the records that have another one beside them: a record of the same table with the same values in some columns.
     * It has no text that {@link #parse} would read.
     *
     * @param key the names of the columns that the two have in common, at least one
     * @param after the name of a column in which the other one has a greater value, or empty for any other and the record itself
     * @param that what the other one meets, or empty
     */
    record Sibling(List<String> key, Optional<String> after, Optional<Criteria> that) implements CriteriaNode {
        /** Keeps its own copy of the list. */
        public Sibling {
            key = List.copyOf(key);
        }

        @Override
        public String toString() {
            return "there is "
                    + after.map(column -> "one with a later " + column).orElse("one")
                    + " of the same " + String.join(", ", key)
                    + that.map(criteria -> " where " + criteria).orElse("");
        }
    }

    /**
     * Picks the records that meet both.
     *
     * @param one a criteria
     * @param other another
     */
    record And(Criteria one, Criteria other) implements CriteriaNode {
        @Override
        public String toString() {
            return row(this, " and ");
        }
    }

    /**
     * Picks the records that meet one or both.
     *
     * @param one a criteria
     * @param other another
     */
    record Or(Criteria one, Criteria other) implements CriteriaNode {
        @Override
        public String toString() {
            return "(" + row(this, " or ") + ")";
        }
    }

    /**
     * Picks the records for which a criteria is false.
     *
     * @param part the criteria
     */
    record Not(Criteria part) implements CriteriaNode {
        @Override
        public String toString() {
            return part instanceof IsNull missing ? missing.column + " is not null" : "not (" + part + ")";
        }
    }

    /** Writes a row of ANDs or ORs without going down by recursion: there may be thousands. */
    private static String row(Criteria row, String separator) {
        return operands(row).stream().map(Criteria::toString).collect(Collectors.joining(separator));
    }

    /**
     * Returns the parts of a row of ANDs, or of one of ORs.
     *
     * @param row an AND or an OR
     * @return what is joined by it, however many they are, in their order
     */
    static List<Criteria> operands(Criteria row) {
        Deque<Criteria> open = new ArrayDeque<>(List.of(row));
        Deque<Criteria> found = new ArrayDeque<>();
        while (!open.isEmpty()) {
            Criteria next = open.pop();
            if (next instanceof And and && row instanceof And) {
                open.push(and.one);
                open.push(and.other);
            } else if (next instanceof Or or && row instanceof Or) {
                open.push(or.one);
                open.push(or.other);
            } else {
                found.addFirst(next);
            }
        }
        return List.copyOf(found);
    }

    private static String literal(Object value) {
        return value instanceof Number || value instanceof Boolean || value instanceof Moment
                ? value.toString()
                : "'" + value.toString().replace("'", "''") + "'";
    }
}
