package dev.vacancy.audit;

import java.util.Locale;
import java.util.Optional;

/**
 * What a person is asked before a run is undone. Every answer but a clear yes is a no.
 *
 * @since 0.1
 */
public final class RestoreQuestion {
    private final RestoreApproval ifYes;

    private RestoreQuestion(RestoreApproval ifYes) {
        this.ifYes = ifYes;
    }

    /**
     * Puts the question about a plan.
     *
     * @param plan the plan
     * @return the question
     * @throws dev.vacancy.failure.InvalidRequestException when something stands in the way, so that there is nothing to ask
     */
    public static RestoreQuestion about(RestorePlan plan) {
        return new RestoreQuestion(RestoreApproval.of(plan));
    }

    /**
     * Returns the question in words.
     *
     * @return such as {@code Bring back 214 records that odile deleted?}
     */
    public String text() {
        RestorePlan plan = ifYes.plan();
        long links = plan.putBack().values().stream().mapToLong(Long::longValue).sum();
        String records =
                number(plan.total(), "record") + " that " + plan.run().by().actor() + " deleted";
        String what = plan.total() == 0
                ? "Put back " + number(links, "link")
                : "Bring back " + records + (links == 0 ? "" : ", and put back " + number(links, "link"));
        return what + "?";
    }

    /**
     * Takes the answer.
     *
     * @param answer what the person said; null stands for no answer
     * @return the approval if it was yes or y; otherwise nothing
     */
    public Optional<RestoreApproval> answer(String answer) {
        String word = answer == null ? "" : answer.strip().toLowerCase(Locale.ROOT);
        return word.equals("yes") || word.equals("y") ? Optional.of(ifYes) : Optional.empty();
    }

    private static String number(long count, String noun) {
        return String.format(Locale.ROOT, "%,d %s", count, count == 1 ? noun : noun + "s");
    }

    @Override
    public String toString() {
        return text();
    }
}
