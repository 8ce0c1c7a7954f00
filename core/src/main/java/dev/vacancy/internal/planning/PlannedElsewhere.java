package dev.vacancy.internal.planning;

import dev.vacancy.rule.Consent;

/**
 * A plan that was made elsewhere, by rules that may ask for less, with what is asked for here.
 *
 * @param proposal the plan as it was made
 * @param demanded what a person has to have given here
 * @param colleague whether somebody else has to agree here
 * @param scope what it is of here
 */
record PlannedElsewhere(PlannedDeletion proposal, Consent demanded, boolean colleague, Scope scope) implements Gated {}
