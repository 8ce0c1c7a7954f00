package dev.vacancy.internal.planning;

/**
 * What a plan is of. Whoever agrees to a plan agrees to it there, by these rules and for this request, and nowhere else.
 *
 * @param database which database it was made on
 * @param rules the digest of the rules
 * @param request the digest of what was asked for
 * @since 0.1
 */
public record Scope(String database, String rules, String request) {}
