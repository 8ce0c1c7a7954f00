package dev.vacancy;

/**
 * The selection matches another number of records than its caller counted on. Nothing was planned or changed.
 *
 * @since 0.1
 */
public final class UnexpectedCountException extends InvalidRequestException {
    private static final long serialVersionUID = 1L;

    private final long expected;
    private final long found;

    /**
     * Makes the exception.
     *
     * @param problem how many records there are, and how many were expected or allowed
     * @param remedy what to do
     * @param expected how many were expected, or allowed
     * @param found how many there are
     */
    public UnexpectedCountException(String problem, String remedy, long expected, long found) {
        super(FailureCode.UNEXPECTED_COUNT, problem, remedy);
        this.expected = expected;
        this.found = found;
    }

    /**
     * Returns how many records were expected, or allowed.
     *
     * @return 0 or more
     */
    public long expected() {
        return expected;
    }

    /**
     * Returns how many records there are.
     *
     * @return 0 or more
     */
    public long found() {
        return found;
    }
}
