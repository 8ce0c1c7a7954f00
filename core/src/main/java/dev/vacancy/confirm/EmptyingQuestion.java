package dev.vacancy.confirm;

import dev.vacancy.plan.EmptyingPlan;
import dev.vacancy.wording.Wording;
import java.util.Optional;

/**
 * What a person is asked before a table is emptied. The answer is the number of its records; everything else is a no.
 *
 * @since 0.1
 */
public final class EmptyingQuestion {
    private final EmptyingPlan plan;
    private final Wording wording;

    private EmptyingQuestion(EmptyingPlan plan, Wording wording) {
        this.plan = plan;
        this.wording = wording;
    }

    /**
     * Puts the question about a plan.
     *
     * @param plan the plan
     * @return the question
     */
    public static EmptyingQuestion about(EmptyingPlan plan) {
        return new EmptyingQuestion(plan, Wording.english());
    }

    /**
     * Puts the same question in other words.
     *
     * @param words the words
     * @return the question
     */
    public EmptyingQuestion in(Wording words) {
        return new EmptyingQuestion(plan, words);
    }

    /**
     * Returns the question in words.
     *
     * @return such as {@code Empty reading of all 20,000 records?}
     */
    public String text() {
        return wording.text(
                plan.passedOver().isEmpty() ? "empty" : "empty.passing-over",
                plan.table().name(),
                plan.records(),
                String.join(", ", plan.passedOver()));
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
     * @return the approval if it was the number of {@link #typed()}, with its digits in groups or without; otherwise nothing
     */
    public Optional<EmptyingApproval> answer(String answer) {
        return answer != null && wording.isNumber(answer.strip(), plan.records())
                ? Optional.of(EmptyingApproval.of(plan))
                : Optional.empty();
    }

    @Override
    public String toString() {
        return text();
    }
}
