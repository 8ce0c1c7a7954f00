package dev.vacancy.cli;

/**
 * What {@code vacancy.yaml} says.
 *
 * @param url the JDBC URL of the database
 * @param user the user to connect as, or an empty text
 * @param passwordVariable the environment variable that holds the password
 */
record Configuration(String url, String user, String passwordVariable) {
    static final String USUAL_PASSWORD_VARIABLE = "VACANCY_PASSWORD";
}
