package dev.vacancy.internal.request;

import dev.vacancy.Emptying;

/** What an application has given as {@link Emptying}. */
public record GivenEmptying(String table, boolean passingOverTriggers) implements Emptying {}
