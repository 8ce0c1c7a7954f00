package dev.vacancy.confirm;

import dev.vacancy.plan.EmptyingPlan;
import java.util.Locale;
import java.util.Optional;

/**
 * What a person is asked before a table is emptied. The answer is the number of its records; everything else is a no.
 *
 * @since 0.1
 */
public final class EmptyingQuestion {
    private final EmptyingPlan plan;

    private EmptyingQuestion(EmptyingPlan plan) {
        this.plan = plan;
    }

    /**
     * Puts the question about a plan.
     *
     * @param plan the plan
     * @return the question
     */
    public static EmptyingQuestion about(EmptyingPlan plan) {
        return new EmptyingQuestion(plan);
    }

    /**
     * Returns the question in words.
     *
     * @return such as {@code Empty reading of all 20,000 records?}
     */
    public String text() {
        return String.format(
                Locale.ROOT,
                "Empty %s of all %,d records%s?",
                plan.table(),
                plan.records(),
                plan.passedOver().isEmpty() ? "" : ", without a word to " + String.join(", ", plan.passedOver()));
    }

    /**
     * Returns what the answer must be.
     *
     * @return the number of records, as plain digits
     */
    public String typed() {
        return String.valueOf(plan.records());
    }

    /**
     * Takes the answer.
     *
     * @param answer what the person said; null stands for no answer
     * @return the approval if it was the number of {@link #typed()}, with commas or without; otherwise nothing
     */
    public Optional<EmptyingApproval> answer(String answer) {
        return answer != null && typed().equals(answer.strip().replace(",", ""))
                ? Optional.of(EmptyingApproval.of(plan))
                : Optional.empty();
    }

    @Override
    public String toString() {
        return text();
    }
}
