package dev.vacancy.internal.dialect;

/**
 * One of several servers that are one database. It changes as servers come and go, so nothing may depend on it but speed.
 *
 * @param index its number, from 0
 * @param of how many there are, at least 1
 */
public record ServerNumber(int index, int of) {}
