package dev.vacancy.internal.failure;

import dev.vacancy.UnexpectedCountException;

/**
 * Says that a selection matches another number of records than its caller counted on.
 *
 * @since 0.1
 */
public final class UnexpectedCounts {
    private UnexpectedCounts() {}

    /**
     * Says that a selection matches other records than its caller counted on.
     *
     * @param table the table
     * @param expected how many records were expected
     * @param found how many there are
     * @param notFound what to add about keys that no record has, or empty
     * @return the failure
     */
    public static UnexpectedCountException other(String table, long expected, long found, String notFound) {
        return new UnexpectedCountException(
                "The selection was expected to match " + expected + " of " + table + ", but matches " + found + notFound
                        + ".",
                "Check what is selected, or expect " + found + ".",
                expected,
                found);
    }

    /**
     * Says that a selection matches more records than its caller allows.
     *
     * @param table the table
     * @param most how many records were allowed
     * @param found how many there are
     * @return the failure
     */
    public static UnexpectedCountException more(String table, long most, long found) {
        return new UnexpectedCountException(
                "The selection may match at most " + most + " of " + table + ", but matches " + found + ".",
                "Check what is selected, or allow " + found + ".",
                most,
                found);
    }
}
