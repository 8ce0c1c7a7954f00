package dev.vacancy;

/**
 * Records that must not go, because somebody holds them.
 *
 * @param hold the id of the hold
 * @param table the table of the records
 * @param count how many of those that would go are held
 * @param reason why, in the words of whoever holds them
 * @param by who holds them
 * @since 0.1
 */
public record Held(String hold, String table, long count, String reason, String by) {}
