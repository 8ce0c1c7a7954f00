package dev.vacancy;

import java.util.List;

/**
 * The records changed after the plan was approved, so that the deletion would no longer be what was agreed to. Nothing
 * was changed.
 *
 * @since 0.1
 */
public final class StalePlanException extends VacancyException {
    private static final long serialVersionUID = 1L;

    private final transient List<String> differences;

    /**
     * Says that a plan is out of date.
     *
     * @param differences what is different now, at least one
     */
    public StalePlanException(List<String> differences) {
        super(
                FailureCode.STALE_PLAN,
                "The records changed since the plan was approved: " + String.join(", ", differences) + ".",
                "Nothing was deleted; make a new plan and ask again.",
                null);
        this.differences = List.copyOf(differences);
    }

    /**
     * Says that a plan is out of date that was made on another server than the one that writes.
     *
     * @param stale what the server that writes says of it
     * @param behind how far the other one was behind, in words
     */
    public StalePlanException(StalePlanException stale, String behind) {
        super(
                FailureCode.STALE_PLAN,
                "The plan was made on a server that follows the one that writes, and " + behind
                        + ". There it is otherwise: " + String.join(", ", stale.differences) + ".",
                "Nothing was deleted; make a new plan when it has caught up, and ask again.",
                stale);
        this.differences = List.copyOf(stale.differences);
    }

    /**
     * Returns what is different now.
     *
     * @return such as {@code 2 more of reading}, {@code 1 fewer of inspection}; at least one
     */
    public List<String> differences() {
        return differences;
    }
}
