package dev.vacancy.internal.yaml;

import java.util.Optional;

/**
 * Where a database is, and who connects to it.
 *
 * @param url the JDBC URL, or that of documents
 * @param user the user to connect as, or an empty text
 * @param passwordVariable the environment variable that holds the password
 */
public record Address(String url, String user, String passwordVariable) {
    public static final String USUAL_PASSWORD_VARIABLE = "VACANCY_PASSWORD";

    /** The password, if the environment has one. */
    public Optional<String> password() {
        return Optional.ofNullable(System.getenv(passwordVariable));
    }
}
