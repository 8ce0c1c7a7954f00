package dev.vacancy.internal.dialect;

/**
 * How a database drops all records of a table at once, as part of a transaction.
 *
 * @param lock keeps everybody else from the table, or fails as somebody holds one of its records
 * @param statement drops them
 * @param allowed a query of one truth value: whether the user may, and no policy hides records from the user
 * @param triggers a query of the names of the triggers that it passes over
 * @since 0.1
 */
public record Truncation(Fragment lock, Fragment statement, Fragment allowed, Fragment triggers) {}
