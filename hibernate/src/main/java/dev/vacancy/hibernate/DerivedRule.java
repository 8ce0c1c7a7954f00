package dev.vacancy.hibernate;

/**
 * A rule that the mapping states.
 *
 * @param where what the rule is about: a link such as {@code berth.pier_id}, a table or a column
 * @param rule what it says, such as {@code cascade}
 * @param origin where the mapping says so, such as {@code Pier.berths (cascade REMOVE)}
 * @since 0.1
 */
public record DerivedRule(String where, String rule, String origin) {
    @Override
    public String toString() {
        return where + ": " + rule + ", by " + origin;
    }
}
