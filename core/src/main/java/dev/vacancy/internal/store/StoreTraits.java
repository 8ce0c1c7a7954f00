package dev.vacancy.internal.store;

import java.util.OptionalInt;

/**
 * What a database does by itself when records go, as far as the order of a deletion depends on it.
 *
 * @param enforcesLinks whether the database keeps children from pointing at parents that are gone
 * @param checksRowByRow whether records of one table that point at each other can't go in one statement
 * @param actsAfterStatement whether ON DELETE finds nothing left to do among records that go in one statement
 * @param deepestCascade how many records in a row the database's own cascade follows; 0 if it is better kept out of it
 * @param deepestRecursion how many generations {@link RecordStore#descendants} can go down at most; empty if it ends by itself
 * @param defersChecks whether the checks of deferrable foreign keys can be put off
 * @param countsByDeleting whether the statement that deletes records can be the first to count them
 * @param locksAreLocal whether locks of one server are unknown to the others
 * @param mostPerTransaction how many records a run can change in a transaction; 0 if there are none
 * @since 0.1
 */
public record StoreTraits(
        boolean enforcesLinks,
        boolean checksRowByRow,
        boolean actsAfterStatement,
        int deepestCascade,
        OptionalInt deepestRecursion,
        boolean defersChecks,
        boolean countsByDeleting,
        boolean locksAreLocal,
        long mostPerTransaction) {
    /**
     * Tells whether a transaction can hold a run.
     *
     * @param records how many records it changes
     * @return false if others see it while it goes on
     */
    public boolean isTransactional(long records) {
        return mostPerTransaction > 0 && records <= mostPerTransaction;
    }
}
