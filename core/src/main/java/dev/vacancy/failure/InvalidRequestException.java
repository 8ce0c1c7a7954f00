package dev.vacancy.failure;

/**
 * The request can't be carried out as it was put: an unknown name, a key of the wrong type or shape, a table without a
 * primary key, another number of records than expected. Nothing was read or changed beyond what was needed to tell.
 *
 * @since 0.1
 */
public class InvalidRequestException extends VacancyException {
    private static final long serialVersionUID = 1L;

    /**
     * Describes what is wrong with the request.
     *
     * @param problem what is wrong, quoting the value in question
     * @param remedy what to ask for instead
     */
    public InvalidRequestException(String problem, String remedy) {
        super(problem, remedy, null);
    }
}
