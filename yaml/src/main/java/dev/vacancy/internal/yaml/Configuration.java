package dev.vacancy.internal.yaml;

import dev.vacancy.rule.RuleBook;

/**
 * What {@code vacancy.yaml} says.
 *
 * @param address the database
 * @param rules the links that only it declares, and the rules on links
 */
public record Configuration(Address address, RuleBook rules) {}
