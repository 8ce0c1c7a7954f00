package dev.vacancy;

import java.util.Collections;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * Anything that Vacancy refuses or fails to do. Whenever one is thrown, the data is as it was before the call,
 * unless it is an {@link OutcomeUnknownException}.
 *
 * <p>The message always has two sentences: what is wrong, with the value or record in question, and what to do next.
 * It never holds a password.
 *
 * @since 0.1
 */
public abstract class VacancyException extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final FailureCode code;
    private final String problem;
    private final String remedy;
    private final HashMap<String, String> details = new LinkedHashMap<>();

    /**
     * Describes a failure.
     *
     * @param code what kind of failure it is
     * @param problem what is wrong, on which record or value; a sentence
     * @param remedy what to do next; a sentence
     * @param cause what caused it, or null
     */
    protected VacancyException(FailureCode code, String problem, String remedy, Throwable cause) {
        super(problem + " " + remedy, cause);
        this.code = code;
        this.problem = problem;
        this.remedy = remedy;
    }

    /**
     * Returns what kind of failure it is.
     *
     * @return a code that stays the same from version to version
     */
    public final FailureCode code() {
        return code;
    }

    /**
     * Returns the pieces of what is wrong, as far as there are any.
     *
     * @return such as {@code {table=hive, column=name, value=x}}
     */
    public final Map<String, String> details() {
        return Collections.unmodifiableMap(details);
    }

    /**
     * Adds a piece of what is wrong.
     *
     * @param piece its name
     * @param value what it is; its text is kept
     */
    protected final void addDetail(String piece, Object value) {
        details.put(piece, String.valueOf(value));
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
