package dev.vacancy.cli;

import dev.vacancy.rule.RuleBook;

/**
 * What {@code vacancy.yaml} says.
 *
 * @param url the JDBC URL of the database
 * @param user the user to connect as, or an empty text
 * @param passwordVariable the environment variable that holds the password
 * @param rules the links that only it declares, and the rules on links
 */
record Configuration(String url, String user, String passwordVariable, RuleBook rules) {
    static final String USUAL_PASSWORD_VARIABLE = "VACANCY_PASSWORD";
}
