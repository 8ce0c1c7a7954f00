package dev.vacancy.internal.running;

/**
 * An approval with what comes of it, which is kept once that has come about.
 *
 * @param approval the id of the approval
 * @param receipt what comes of it
 * @since 0.1
 */
public record Redeemed(String approval, StoredReceipt receipt) {}
