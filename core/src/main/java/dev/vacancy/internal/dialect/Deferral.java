package dev.vacancy.internal.dialect;

/**
 * How a transaction puts off the checks of foreign keys, and takes them up again.
 *
 * @param begin the statement that puts them off
 * @param end the statement that makes up for them
 * @since 0.1
 */
public record Deferral(String begin, String end) {}
