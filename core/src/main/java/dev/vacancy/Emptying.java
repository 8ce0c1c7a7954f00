package dev.vacancy;

import dev.vacancy.internal.request.GivenEmptying;

/**
 * The wish to empty a whole table, in the fastest way that the database has: an operation of its own, which nothing else falls back
 * to. Only a table that no link points at can be emptied; records that others depend on are deleted by a selection of all of them.
 *
 * @since 0.1
 */
public sealed interface Emptying permits GivenEmptying {
    /** {@return the table's name} */
    String table();

    /** {@return whether the table's own triggers may be passed over where that is faster} */
    boolean passingOverTriggers();

    /**
     * Wishes a table empty, with its triggers told of each record.
     *
     * @param table the table's name
     * @return the wish
     */
    static Emptying of(String table) {
        return new GivenEmptying(table, false);
    }

    /**
     * Returns the same, with the table's triggers passed over if the database can then be faster.
     *
     * @return the wish
     */
    default Emptying passingOverAllTriggers() {
        return new GivenEmptying(table(), true);
    }
}
