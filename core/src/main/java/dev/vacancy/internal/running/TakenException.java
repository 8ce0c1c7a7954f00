package dev.vacancy.internal.running;

import dev.vacancy.VacancyException;

/**
 * Somebody else has redeemed an approval, or is about to.
 *
 * @since 0.1
 */
public final class TakenException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final boolean passing;
    private final VacancyException failure;

    /**
     * Says so.
     *
     * @param passing whether it may be had again if that comes to nothing
     * @param failure what to tell if nothing is heard of what came of it
     */
    public TakenException(boolean passing, VacancyException failure) {
        super(failure);
        this.passing = passing;
        this.failure = failure;
    }

    /** {@return whether it may be had again if that comes to nothing} */
    public boolean isPassing() {
        return passing;
    }

    /** {@return what to tell if nothing is heard of what came of it} */
    public VacancyException failure() {
        return failure;
    }
}
