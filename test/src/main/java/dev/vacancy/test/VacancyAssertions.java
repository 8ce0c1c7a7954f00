package dev.vacancy.test;

import dev.vacancy.Outcome;
import dev.vacancy.Plan;
import java.util.Objects;

/**
 * Begins assertions about deletions. It has the same name as AssertJ's own, so that both may be imported.
 *
 * <pre>{@code
 * assertThat(vacancy.plan(Selection.of("pier").key(1), by))
 *     .deletes("berth", 3)
 *     .leaves("craft");
 * }</pre>
 *
 * @since 0.1
 */
public final class VacancyAssertions {
    private VacancyAssertions() {}

    /**
     * Begins assertions about a plan.
     *
     * @param plan the plan
     * @return what asserts
     */
    public static PlanAssert assertThat(Plan plan) {
        return new PlanAssert(Objects.requireNonNull(plan, "plan"));
    }

    /**
     * Begins assertions about an outcome.
     *
     * @param outcome the outcome
     * @return what asserts
     */
    public static OutcomeAssert assertThat(Outcome outcome) {
        return new OutcomeAssert(Objects.requireNonNull(outcome, "outcome"));
    }
}
