package dev.vacancy.cli;

import dev.vacancy.rule.RuleBook;

/**
 * What {@code vacancy.yaml} says.
 *
 * @param address the database
 * @param rules the links that only it declares, and the rules on links
 */
record Configuration(Address address, RuleBook rules) {}
