package dev.vacancy.internal.catalog;

/**
 * What the database's user may do with a table.
 *
 * @param select whether its records can be read
 * @param delete whether they can be deleted
 * @param update whether they can be changed, and locked one by one
 * @param whole whether all of its records are seen; row-level security can hide some, which the database's own actions reach
 *     nevertheless
 * @param transactional whether changes to it can be taken back; not with every storage engine of MariaDB
 * @param local whether all of its records lie on the server that is asked, so that one commit is of all of them
 * @since 0.1
 */
public record Access(
        boolean select, boolean delete, boolean update, boolean whole, boolean transactional, boolean local) {
    /** No limits, or none that the database tells. */
    public static final Access FULL = new Access(true, true, true, true, true, true);
}
