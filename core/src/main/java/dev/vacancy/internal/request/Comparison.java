package dev.vacancy.internal.request;

/**
 * How a column is compared with a value.
 *
 * @since 0.1
 */
public enum Comparison {
    /** The same. */
    EQUAL("="),
    /** Another. */
    NOT_EQUAL("<>"),
    /** Less. */
    LESS("<"),
    /** Less or the same. */
    AT_MOST("<="),
    /** Greater. */
    GREATER(">"),
    /** Greater or the same. */
    AT_LEAST(">=");

    private final String sql;

    Comparison(String sql) {
        this.sql = sql;
    }

    /**
     * Returns the comparison as SQL writes it (ISO/IEC 9075-2, section 8.2).
     *
     * @return the operator
     */
    public String sql() {
        return sql;
    }

    /**
     * Returns the comparison that holds of two values wherever this one does not.
     *
     * @return the contrary
     */
    public Comparison contrary() {
        return switch (this) {
            case EQUAL -> NOT_EQUAL;
            case NOT_EQUAL -> EQUAL;
            case LESS -> AT_LEAST;
            case AT_LEAST -> LESS;
            case GREATER -> AT_MOST;
            case AT_MOST -> GREATER;
        };
    }

    /**
     * Tells whether it holds of two values in their order.
     *
     * @param order below 0 if the first comes before the second, 0 if they are the same, above 0 if it comes after
     * @return true if it holds
     */
    public boolean holds(int order) {
        return switch (this) {
            case EQUAL -> order == 0;
            case NOT_EQUAL -> order != 0;
            case LESS -> order < 0;
            case AT_MOST -> order <= 0;
            case GREATER -> order > 0;
            case AT_LEAST -> order >= 0;
        };
    }
}
