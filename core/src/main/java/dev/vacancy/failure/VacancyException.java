package dev.vacancy.failure;

/**
 * Anything that Vacancy refuses or fails to do. Whenever one is thrown, the data is as it was before the call.
 *
 * <p>The message always has two sentences: what is wrong, with the value or record in question, and what to do next.
 * It never holds a password.
 *
 * @since 0.1
 */
public abstract class VacancyException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final String problem;
    private final String remedy;

    /**
     * Describes a failure.
     *
     * @param problem what is wrong, on which record or value; a sentence
     * @param remedy what to do next; a sentence
     * @param cause what caused it, or null
     */
    protected VacancyException(String problem, String remedy, Throwable cause) {
        super(problem + " " + remedy, cause);
        this.problem = problem;
        this.remedy = remedy;
    }

    /**
     * Returns what is wrong.
     *
     * @return a sentence that names the record or quotes the value
     */
    public final String problem() {
        return problem;
    }

    /**
     * Returns what to do next.
     *
     * @return a sentence
     */
    public final String remedy() {
        return remedy;
    }
}
