package dev.vacancy;

import dev.vacancy.plan.By;

/**
 * Says who may do what. It is asked before a plan, before a run, and before anything of the audit trail is told.
 *
 * <pre>{@code
 * Vacancy forOdile = vacancy.actingFor(By.user("odile"), (by, act, table) -> roles.of(by.actor()).allow(act, table));
 * }</pre>
 *
 * @since 0.1
 */
@FunctionalInterface
public interface Permissions {
    /** What somebody wants to do with records of a table. */
    enum Act {
        /**
         * See what records hold, and which go along with others, change, or are in the way; without it a plan only counts them, and of those
         * that were selected it tells the keys. Ask about them in a criteria on their children.
         */
        SEE,
        /** Look at what a deletion would do. */
        PREVIEW,
        /** Delete records, as the rule of their table says. */
        DELETE,
        /** Delete records for good where the rule is to mark them only, and erase them. */
        DELETE_FOR_GOOD,
        /** Delete several records, or those that meet a criteria; watch, pause and cancel a bulk run. */
        DELETE_SEVERAL,
        /** Delete all records of the table. */
        DELETE_ALL,
        /** Bring records back. */
        RESTORE,
        /** See what happened, and the deleted records. */
        HISTORY,
        /** Hold records, lift holds, and age the audit trail, which belongs to no table. */
        KEEP
    }

    /**
     * Tells whether somebody may do something.
     *
     * @param by who
     * @param act what
     * @param table with records of which table; empty for the audit trail as a whole
     * @return true if so
     */
    boolean may(By by, Act act, String table);
}
