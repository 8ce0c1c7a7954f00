package dev.vacancy.confirm;

import dev.vacancy.plan.Plan;
import dev.vacancy.wording.Wording;
import java.util.Optional;

/**
 * What a person is asked about a deletion in chunks, each of which is committed by itself. Every answer but a clear yes is a no.
 *
 * @since 0.1
 */
public final class BulkQuestion {
    private final Plan plan;
    private final Wording wording;

    private BulkQuestion(Plan plan, Wording wording) {
        this.plan = plan;
        this.wording = wording;
    }

    /**
     * Puts the question about a plan. Blocked records don't forbid it: they are left out.
     *
     * @param plan the plan of the whole
     * @return the question
     */
    public static BulkQuestion about(Plan plan) {
        return new BulkQuestion(plan, Wording.english());
    }

    /**
     * Puts the same question in other words.
     *
     * @param words the words, in which yes is answered as well
     * @return the question
     */
    public BulkQuestion in(Wording words) {
        return new BulkQuestion(plan, words);
    }

    /**
     * Returns the question in words, with the number of all records that would go.
     *
     * @return such as {@code Delete 1,200 of the 20,000 records of reading, in chunks that are committed one by one?}
     */
    public String text() {
        String key = plan.blockers().isEmpty() ? "question.chunks" : "question.chunks.as-far";
        return wording.text(key, Question.what(plan, wording)) + Question.wayBack(plan, wording);
    }

    /**
     * Returns what the answer must be, where a yes is too little.
     *
     * @return the number to type, as plain digits; empty where the answer is yes or no
     */
    public Optional<String> typed() {
        return Question.typed(plan);
    }

    /**
     * Takes the answer.
     *
     * @param answer what the person said; null stands for no answer
     * @return the approval if it was yes or y, or the number of {@link #typed()} where that is asked for; otherwise nothing
     */
    public Optional<BulkApproval> answer(String answer) {
        return Question.isYes(answer, plan, wording) ? Optional.of(BulkApproval.of(plan)) : Optional.empty();
    }

    @Override
    public String toString() {
        return text();
    }
}
