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

    private UnexpectedCountException(String problem, String remedy, long expected, long found) {
        super(FailureCode.UNEXPECTED_COUNT, problem, remedy);
        this.expected = expected;
        this.found = found;
    }

    /**
     * Says that a selection matches other records than its caller counted on.
     *
     * @param table the table
     * @param expected how many records were expected
     * @param found how many there are
     * @param notFound what to add about keys that no record has, or empty
     * @return the failure
     */
    public static UnexpectedCountException other(String table, long expected, long found, String notFound) {
        return new UnexpectedCountException(
                "The selection was expected to match " + expected + " of " + table + ", but matches " + found + notFound
                        + ".",
                "Check what is selected, or expect " + found + ".",
                expected,
                found);
    }

    /**
     * Says that a selection matches more records than its caller allows.
     *
     * @param table the table
     * @param most how many records were allowed
     * @param found how many there are
     * @return the failure
     */
    public static UnexpectedCountException more(String table, long most, long found) {
        return new UnexpectedCountException(
                "The selection may match at most " + most + " of " + table + ", but matches " + found + ".",
                "Check what is selected, or allow " + found + ".",
                most,
                found);
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
