package dev.vacancy;

import dev.vacancy.internal.request.Comparison;
import dev.vacancy.internal.request.CriteriaNode;
import java.util.ArrayList;
import java.util.Collection;

/**
 * A column that is about to be compared.
 *
 * @since 0.1
 */
public final class ColumnCriteria {
    private final String name;

    ColumnCriteria(String name) {
        this.name = name;
    }

    /**
     * Picks the records whose column is a value.
     *
     * @param value not null
     * @return the criteria
     */
    public Criteria equalTo(Object value) {
        return compares(Comparison.EQUAL, value);
    }

    /**
     * Picks the records whose column is another value; not those without any.
     *
     * @param value not null
     * @return the criteria
     */
    public Criteria notEqualTo(Object value) {
        return compares(Comparison.NOT_EQUAL, value);
    }

    /**
     * Picks the records whose column is less than a value.
     *
     * @param value not null
     * @return the criteria
     */
    public Criteria lessThan(Object value) {
        return compares(Comparison.LESS, value);
    }

    /**
     * Picks the records whose column is a value or less.
     *
     * @param value not null
     * @return the criteria
     */
    public Criteria atMost(Object value) {
        return compares(Comparison.AT_MOST, value);
    }

    /**
     * Picks the records whose column is greater than a value.
     *
     * @param value not null
     * @return the criteria
     */
    public Criteria greaterThan(Object value) {
        return compares(Comparison.GREATER, value);
    }

    /**
     * Picks the records whose column is a value or greater.
     *
     * @param value not null
     * @return the criteria
     */
    public Criteria atLeast(Object value) {
        return compares(Comparison.AT_LEAST, value);
    }

    /**
     * Picks the records whose column lies between two values, or is one of them.
     *
     * @param low the lower one, not null
     * @param high the higher one, not null
     * @return the criteria
     */
    public Criteria between(Object low, Object high) {
        return atLeast(low).and(atMost(high));
    }

    /**
     * Picks the records whose column is one of several values.
     *
     * @param values at least one, none of them null
     * @return the criteria
     */
    public Criteria oneOf(Collection<?> values) {
        return new CriteriaNode.In(name, new ArrayList<>(values));
    }

    /**
     * Picks the records whose column is like a pattern.
     *
     * @param pattern {@code %} stands for any text, {@code _} for any character
     * @return the criteria
     */
    public Criteria like(String pattern) {
        return new CriteriaNode.Like(name, pattern);
    }

    /**
     * Picks the records whose column is null.
     *
     * @return the criteria
     */
    public Criteria isNull() {
        return new CriteriaNode.IsNull(name);
    }

    /**
     * Picks the records whose column is not null.
     *
     * @return the criteria
     */
    public Criteria isNotNull() {
        return isNull().not();
    }

    private Criteria compares(Comparison comparison, Object value) {
        if (value == null) {
            throw new InvalidRequestException(
                    FailureCode.MISSING_VALUE,
                    "Column " + name + " is compared with null, which is never true.",
                    "Ask for isNull() or isNotNull().");
        }
        return new CriteriaNode.Compares(name, comparison, value);
    }
}
