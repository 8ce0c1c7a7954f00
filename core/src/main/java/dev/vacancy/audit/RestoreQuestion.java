package dev.vacancy.audit;

import dev.vacancy.wording.Wording;
import java.util.Locale;
import java.util.Optional;

/**
 * What a person is asked before a run is undone. Every answer but a clear yes is a no.
 *
 * @since 0.1
 */
public final class RestoreQuestion {
    private final RestoreApproval ifYes;
    private final Wording wording;

    private RestoreQuestion(RestoreApproval ifYes, Wording wording) {
        this.ifYes = ifYes;
        this.wording = wording;
    }

    /**
     * Puts the question about a plan.
     *
     * @param plan the plan
     * @return the question
     * @throws dev.vacancy.failure.InvalidRequestException when something stands in the way, so that there is nothing to ask
     */
    public static RestoreQuestion about(RestorePlan plan) {
        return new RestoreQuestion(RestoreApproval.of(plan), Wording.english());
    }

    /**
     * Puts the same question in other words.
     *
     * @param words the words, in which yes is answered as well
     * @return the question
     */
    public RestoreQuestion in(Wording words) {
        return new RestoreQuestion(ifYes, words);
    }

    /**
     * Returns the question in words.
     *
     * @return such as {@code Bring back 214 records that odile deleted?}
     */
    public String text() {
        RestorePlan plan = ifYes.plan();
        long links = plan.putBack().values().stream().mapToLong(Long::longValue).sum();
        String key = plan.total() == 0 ? "restore.links" : links == 0 ? "restore" : "restore.and-links";
        return wording.text(key, plan.total(), plan.run().by().actor(), links);
    }

    /**
     * Takes the answer.
     *
     * @param answer what the person said; null stands for no answer
     * @return the approval if it was yes or y; otherwise nothing
     */
    public Optional<RestoreApproval> answer(String answer) {
        String word = answer == null ? "" : answer.strip().toLowerCase(Locale.ROOT);
        return wording.words("answer.yes").contains(word) ? Optional.of(ifYes) : Optional.empty();
    }

    @Override
    public String toString() {
        return text();
    }
}
