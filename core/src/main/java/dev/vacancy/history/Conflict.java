package dev.vacancy.history;

/**
 * What stands in the way of a restore.
 *
 * @param table the table of the record that can't come back as it was
 * @param key its key
 * @param reason why
 * @param remedy what would settle it
 * @since 0.1
 */
public record Conflict(String table, String key, String reason, String remedy) {}
