package dev.vacancy.internal.condition;

/**
 * Makes something of a condition, by its kind: what a database is asked, for instance.
 *
 * @param <T> what is made
 * @since 0.1
 */
public interface ConditionVisitor<T> {
    /**
     * Reads one or several keys.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.Among condition);

    /**
     * Reads keys as images have them.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.Pictured condition);

    /**
     * Reads foreign keys.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.Referring condition);

    /**
     * Reads a comparison.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.Compares condition);

    /**
     * Reads a value in any spelling.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.Means condition);

    /**
     * Reads several values.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.OneOf condition);

    /**
     * Reads a pattern.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.Like condition);

    /**
     * Reads a missing value.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.IsNull condition);

    /**
     * Reads another record of the same key.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.Sibling condition);

    /**
     * Reads every record.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.Any condition);

    /**
     * Reads a condition on parents.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.OfParent condition);

    /**
     * Reads a condition on many parents.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.OfManyParents condition);

    /**
     * Reads a condition on children.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.OfChildren condition);

    /**
     * Reads alternatives.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.AnyOf condition);

    /**
     * Reads conditions that all have to be met.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.AllOf condition);

    /**
     * Reads the contrary.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.Not condition);

    /**
     * Reads all others.
     *
     * @param condition the condition
     * @return what is made of it
     */
    T visit(Condition.Except condition);
}
