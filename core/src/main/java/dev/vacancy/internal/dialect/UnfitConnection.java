package dev.vacancy.internal.dialect;

/**
 * Why a connection can't do what is needed.
 *
 * @param problem what stands in between, or what the server is; a sentence
 * @param remedy what to do about it; a sentence
 * @since 0.1
 */
public record UnfitConnection(String problem, String remedy) {}
