package dev.vacancy.web;

import dev.vacancy.plan.By;

/**
 * Says who may do what. It is asked before a plan and before a run.
 *
 * @since 0.1
 */
@FunctionalInterface
public interface Permissions {
    /** What somebody wants to do. */
    enum Act {
        /** Look at what a deletion would do. */
        PREVIEW,
        /** Delete records, as the rule of their table says. */
        DELETE,
        /** Delete records for good where the rule is to mark them only. */
        DELETE_FOR_GOOD,
        /** Delete several records, or those that meet a criteria. */
        DELETE_SEVERAL,
        /** Bring records back. */
        RESTORE,
        /** See what happened, and the deleted records. */
        HISTORY
    }

    /**
     * Tells whether somebody may do something.
     *
     * @param by who
     * @param act what
     * @param table with records of which table
     * @return true if so
     */
    boolean may(By by, Act act, String table);
}
