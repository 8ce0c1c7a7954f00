package dev.vacancy;

/**
 * The database did something else than the plan says, though no record has changed since: it kept records that it was told to
 * delete, or deleted others beside them. Everything was taken back.
 *
 * @since 0.1
 */
public final class NotAsPlannedException extends VacancyException {
    private static final long serialVersionUID = 1L;

    /**
     * Makes the exception.
     *
     * @param problem what the database did
     * @param remedy what to look for
     * @param table the name of the table
     */
    public NotAsPlannedException(String problem, String remedy, String table) {
        super(FailureCode.NOT_AS_PLANNED, problem, remedy, null);
        addDetail("table", table);
    }
}
