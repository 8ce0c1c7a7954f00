package dev.vacancy;

import java.util.Map;

/**
 * Says who may do what. It is asked before a plan, before a run, and before anything of the audit trail is told.
 *
 * <pre>{@code
 * Permissions permissions = (by, act, table) -> roles.of(by.actor()).allow(act, table);
 * Vacancy forOdile = vacancy.actingFor(By.user("odile"), permissions
 *         .ofRecords((by, act, table, values) -> !table.equals("hive") || keeps(by, values.get("apiary_id")))
 *         .withholding((by, table, column) -> column.equals("phone")));
 * }</pre>
 *
 * <p>It may be asked by many threads at a time.
 *
 * @since 0.1
 */
@FunctionalInterface
public interface Permissions {
    /** What somebody wants to do with records of a table. */
    enum Action {
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
        DELETE_HARD,
        /** Delete several records, or those that meet a criteria; watch, pause and cancel a bulk run. */
        DELETE_SEVERAL,
        /** Delete all records of the table. */
        DELETE_ALL,
        /** Bring records back. */
        RESTORE,
        /** See what happened, and the deleted records. */
        HISTORY,
        /** Hold records, lift holds, and age the audit trail, which belongs to no table. */
        KEEP,
        /** Set aside a column or a table that isn't needed any more, drop it, and bring it back. */
        RETIRE
    }

    /** Says what somebody may do with a single record, to whom it belongs for instance. */
    @FunctionalInterface
    interface OfRecords {
        /**
         * Tells whether somebody may do something with a record.
         *
         * @param by who
         * @param act what
         * @param table the record's table
         * @param values the record, by column, in the types that its columns have, whether it is there or the audit trail tells of it
         * @return true if so
         */
        boolean may(By by, Action act, String table, Map<String, Object> values);
    }

    /** Says what of a table somebody isn't shown. */
    @FunctionalInterface
    interface Withholding {
        /**
         * Tells whether a column is withheld from somebody.
         *
         * @param by who
         * @param table the table
         * @param column the column, not of its key
         * @return true if so
         */
        boolean withholds(By by, String table, String column);
    }

    /**
     * Tells whether somebody may do something.
     *
     * @param by who
     * @param act what
     * @param table with records of which table; empty for the audit trail as a whole
     * @return true if so
     */
    boolean may(By by, Action act, String table);

    /**
     * Tells whether somebody may do something with a single record, which {@link #may(By, Action, String)} allows for its table.
     *
     * @param by who
     * @param act what
     * @param table the record's table
     * @param values the record, by column
     * @return true if so
     */
    default boolean may(By by, Action act, String table, Map<String, Object> values) {
        return true;
    }

    /**
     * Tells whether single records are looked at, so that they have to be read.
     *
     * @return false unless {@link #ofRecords} was called
     */
    default boolean isOfRecords() {
        return false;
    }

    /**
     * Tells whether a column is withheld from somebody.
     *
     * @param by who
     * @param table the table
     * @param column the column
     * @return true if so
     */
    default boolean withholds(By by, String table, String column) {
        return false;
    }

    /**
     * Looks at the records as well: at each that was selected, before its plan is shown and before it goes, however many there are; at each
     * that comes back; and at what the audit trail tells. Plans of records that somebody may not {@link Action#PREVIEW} are refused,
     * and entries that somebody may not know of ({@link Action#HISTORY}) are left out. What goes along with a selected record is asked for by
     * its table alone, since the rules say that it goes; so is a table that is emptied at once, which takes {@link Action#DELETE_ALL}.
     *
     * @param further says who may do what with which record
     * @return permissions that allow what both do
     */
    default Permissions ofRecords(OfRecords further) {
        return new NarrowedPermissions(this, further, (by, table, column) -> false, true);
    }

    /**
     * Withholds columns: plans, labels, deleted records and the audit trail are told without them, and no criteria may ask about them.
     *
     * @param columns says which, of whom
     * @return permissions that withhold these besides
     */
    default Permissions withholding(Withholding columns) {
        return new NarrowedPermissions(this, (by, act, table, values) -> true, columns, isOfRecords());
    }
}
