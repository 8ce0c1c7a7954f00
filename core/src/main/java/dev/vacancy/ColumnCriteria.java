package dev.vacancy;

import static java.util.Objects.requireNonNull;

import dev.vacancy.internal.request.Comparison;
import dev.vacancy.internal.request.CriteriaNode;
import java.util.Collection;
import java.util.function.Function;
import java.util.function.UnaryOperator;
import org.jspecify.annotations.Nullable;

/**
 * A column that is about to be compared, or that rules name.
 *
 * <p>It is immutable, and equal to another of the same name.
 *
 * @param <V> the type of its values
 * @since 0.1
 */
public final class ColumnCriteria<V> {
    private final String name;
    private final UnaryOperator<Object> stored;

    ColumnCriteria(String name, UnaryOperator<Object> stored) {
        this.name = requireNonNull(name, "name");
        this.stored = stored;
    }

    /** {@return the name, as criteria and rules write it, such as {@code hive.name}} */
    public String name() {
        return name;
    }

    /**
     * Returns the same column for values that an application has in another type than the database.
     *
     * @param values makes of a value what this column takes; a {@link Moment} isn't given to it
     * @param <W> the application's type
     * @return the column
     */
    public <W> ColumnCriteria<W> convertedBy(Function<? super W, ? extends V> values) {
        requireNonNull(values, "values");
        @SuppressWarnings("unchecked") // only values of that type come here
        Function<Object, Object> any = (Function<Object, Object>) values;
        return new ColumnCriteria<>(name, value -> stored.apply(any.apply(value)));
    }

    /**
     * Picks the records whose column is a value.
     *
     * @param value not null
     * @return the criteria
     */
    public Criteria equalTo(V value) {
        return compares(Comparison.EQUAL, stored(value));
    }

    /**
     * Picks the records whose column is a moment.
     *
     * @param moment a time that is told anew at each plan
     * @return the criteria
     */
    public Criteria equalTo(Moment moment) {
        return compares(Comparison.EQUAL, moment);
    }

    /**
     * Picks the records whose column is another value; not those without any.
     *
     * @param value not null
     * @return the criteria
     */
    public Criteria notEqualTo(V value) {
        return compares(Comparison.NOT_EQUAL, stored(value));
    }

    /**
     * Picks the records whose column is another time; not those without any.
     *
     * @param moment a time that is told anew at each plan
     * @return the criteria
     */
    public Criteria notEqualTo(Moment moment) {
        return compares(Comparison.NOT_EQUAL, moment);
    }

    /**
     * Picks the records whose column is less than a value.
     *
     * @param value not null
     * @return the criteria
     */
    public Criteria lessThan(V value) {
        return compares(Comparison.LESS, stored(value));
    }

    /**
     * Picks the records whose column is less than a moment.
     *
     * @param moment a time that is told anew at each plan
     * @return the criteria
     */
    public Criteria lessThan(Moment moment) {
        return compares(Comparison.LESS, moment);
    }

    /**
     * Picks the records whose column is a value or less.
     *
     * @param value not null
     * @return the criteria
     */
    public Criteria atMost(V value) {
        return compares(Comparison.AT_MOST, stored(value));
    }

    /**
     * Picks the records whose column is a moment or less.
     *
     * @param moment a time that is told anew at each plan
     * @return the criteria
     */
    public Criteria atMost(Moment moment) {
        return compares(Comparison.AT_MOST, moment);
    }

    /**
     * Picks the records whose column is greater than a value.
     *
     * @param value not null
     * @return the criteria
     */
    public Criteria greaterThan(V value) {
        return compares(Comparison.GREATER, stored(value));
    }

    /**
     * Picks the records whose column is greater than a moment.
     *
     * @param moment a time that is told anew at each plan
     * @return the criteria
     */
    public Criteria greaterThan(Moment moment) {
        return compares(Comparison.GREATER, moment);
    }

    /**
     * Picks the records whose column is a value or greater.
     *
     * @param value not null
     * @return the criteria
     */
    public Criteria atLeast(V value) {
        return compares(Comparison.AT_LEAST, stored(value));
    }

    /**
     * Picks the records whose column is a moment or greater.
     *
     * @param moment a time that is told anew at each plan
     * @return the criteria
     */
    public Criteria atLeast(Moment moment) {
        return compares(Comparison.AT_LEAST, moment);
    }

    /**
     * Picks the records whose column lies between two values, or is one of them.
     *
     * @param low the lower one, not null
     * @param high the higher one, not null
     * @return the criteria
     */
    public Criteria between(V low, V high) {
        return atLeast(low).and(atMost(high));
    }

    /**
     * Picks the records whose column lies between two moments, or is one of them.
     *
     * @param low the earlier one
     * @param high the later one
     * @return the criteria
     */
    public Criteria between(Moment low, Moment high) {
        return atLeast(low).and(atMost(high));
    }

    /**
     * Picks the records whose column is one of several values.
     *
     * @param values at least one, none of them null
     * @return the criteria
     */
    public Criteria oneOf(Collection<? extends V> values) {
        return new CriteriaNode.In(name, values.stream().map(this::stored).toList());
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

    @Override
    public boolean equals(Object other) {
        return other instanceof ColumnCriteria<?> column && name.equals(column.name);
    }

    @Override
    public int hashCode() {
        return name.hashCode();
    }

    @Override
    public String toString() {
        return name;
    }

    private @Nullable Object stored(@Nullable Object value) {
        return value == null || value instanceof Moment ? value : stored.apply(value);
    }

    private Criteria compares(Comparison comparison, @Nullable Object value) {
        if (value == null) {
            throw new InvalidRequestException(
                    FailureCode.MISSING_VALUE,
                    "Column " + name + " is compared with null, which is never true.",
                    "Ask for isNull() or isNotNull().");
        }
        return new CriteriaNode.Compares(name, comparison, value);
    }
}
