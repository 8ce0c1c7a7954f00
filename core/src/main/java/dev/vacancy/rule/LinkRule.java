package dev.vacancy.rule;

import dev.vacancy.catalog.Link;

/**
 * The rule on a link, with the reason that people are told.
 *
 * @param link the link
 * @param rule what happens to its children
 * @param reason why, as a clause that can follow "because"
 * @since 0.1
 */
public record LinkRule(Link link, Rule rule, String reason) {}
