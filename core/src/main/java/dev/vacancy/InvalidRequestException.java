package dev.vacancy;

/**
 * The request can't be carried out as it was put: an unknown name, a key of the wrong type or shape, a table without a
 * primary key, another number of records than expected. {@link #code()} tells which. Nothing was read or changed beyond what
 * was needed to tell.
 *
 * @since 0.1
 */
public class InvalidRequestException extends VacancyException {
    private static final long serialVersionUID = 1L;

    /**
     * Describes what is wrong with the request.
     *
     * @param code what kind of failure it is
     * @param problem what is wrong, quoting the value in question
     * @param remedy what to ask for instead
     */
    public InvalidRequestException(FailureCode code, String problem, String remedy) {
        super(code, problem, remedy, null);
    }

    /**
     * Adds a piece of what is wrong, for programs.
     *
     * @param piece such as {@code table}, {@code column} or {@code value}
     * @param value what it is
     * @return this failure
     */
    public final InvalidRequestException about(String piece, Object value) {
        addDetail(piece, value);
        return this;
    }
}
