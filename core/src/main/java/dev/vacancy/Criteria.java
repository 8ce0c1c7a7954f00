package dev.vacancy;

import static java.util.Objects.requireNonNull;

import dev.vacancy.internal.request.CriteriaNode;
import dev.vacancy.internal.request.CriteriaText;
import java.util.function.UnaryOperator;

/**
 * The condition that picks records, before the catalog is known: columns by name, values of any type.
 *
 * <pre>{@code
 * column("withhold_until").atLeast(Moment.today()).and(column("remedy").notEqualTo("thymol"))
 * column("honey_batch.sold_on").isNotNull()          // a column of the parent, along a link
 * Criteria.parse("withhold_until >= today and honey_batch.sold_on is not null")
 * }</pre>
 *
 * <p>Nulls are treated as in SQL: a comparison with one is unknown, and what is unknown isn't picked.
 *
 * @since 0.1
 */
public sealed interface Criteria permits CriteriaNode {
    /**
     * Starts with a column.
     *
     * @param name a column of the table, or of a parent: the parent table's name (or the name of the foreign-key column,
     *     where several links lead to that table or the parent is of the same one), a full stop, and the column's name;
     *     more than one link may be followed. The table's own name in front means the table itself.
     * @return what takes the comparison
     */
    static ColumnCriteria<Object> column(String name) {
        return new ColumnCriteria<>(name, UnaryOperator.identity());
    }

    /**
     * Starts with a column whose values are of one type.
     *
     * @param name as for {@link #column(String)}
     * @param type the type of its values, which the compiler then checks
     * @param <V> the same
     * @return what takes the comparison
     */
    static <V> ColumnCriteria<V> column(String name, Class<V> type) {
        requireNonNull(type, "type");
        return new ColumnCriteria<>(name, UnaryOperator.identity());
    }

    /**
     * Reads a subset of SQL's search condition (ISO/IEC 9075-2, section 8.21): comparisons of a column with a value, IN,
     * BETWEEN, LIKE, IS NULL, AND, OR, NOT and parentheses; dates as in ISO 8601, and moments such as {@code today - 90
     * days}.
     *
     * @param text the condition
     * @return the criteria
     * @throws InvalidRequestException when it is something else, with the position and what is allowed instead
     */
    static Criteria parse(String text) {
        return CriteriaText.parse(text);
    }

    /**
     * Returns the records that meet this criteria and another.
     *
     * @param other the other
     * @return both
     */
    default Criteria and(Criteria other) {
        return new CriteriaNode.And(this, other);
    }

    /**
     * Returns the records that meet this criteria or another.
     *
     * @param other the other
     * @return one or both
     */
    default Criteria or(Criteria other) {
        return new CriteriaNode.Or(this, other);
    }

    /**
     * Returns the records for which this criteria is false.
     *
     * @return the contrary
     */
    default Criteria not() {
        return new CriteriaNode.Not(this);
    }
}
