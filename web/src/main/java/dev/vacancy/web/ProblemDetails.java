package dev.vacancy.web;

import dev.vacancy.VacancyException;
import dev.vacancy.wording.Wording;
import java.util.LinkedHashMap;
import java.util.Map;

/**
 * A failure as problem details (RFC 9457), as {@link DeletionServlet} answers it, for an application's own controllers.
 *
 * <p>It is immutable.
 *
 * @since 0.1
 */
public final class ProblemDetails {
    private final Problem problem;

    private ProblemDetails(Problem problem) {
        this.problem = problem;
    }

    /**
     * Says what a failure is to a client. A driver's words and names that the client needn't know aren't in it.
     *
     * @param failure the failure
     * @return its problem details
     */
    public static ProblemDetails of(VacancyException failure) {
        return new ProblemDetails(Problem.of(failure));
    }

    /**
     * Returns the status code.
     *
     * @return such as 409 for a deletion that children forbid, 412 for a plan that is stale, 423 for a record that is locked
     */
    public int status() {
        return problem.status();
    }

    /**
     * Returns the type.
     *
     * @return {@code urn:vacancy:problem:} and the failure's code
     */
    public String type() {
        return problem.type();
    }

    /**
     * Returns the title, the same for each problem of the type.
     *
     * @param wording the reader's language
     * @return a few words
     */
    public String title(Wording wording) {
        return wording.failure(problem.code());
    }

    /**
     * Returns what went wrong this time.
     *
     * @return a sentence in English
     */
    public String detail() {
        return problem.detail();
    }

    /**
     * Returns the members beside the standard ones.
     *
     * @return {@code remedy}, what to do next, and those of the kind of failure, such as {@code differences}
     */
    public Map<String, Object> further() {
        Map<String, Object> further = new LinkedHashMap<>();
        further.put("remedy", problem.remedy());
        further.putAll(problem.further());
        return further;
    }

    /**
     * Returns the header fields that belong to the answer.
     *
     * @return such as {@code Retry-After}; none most often
     */
    public Map<String, String> headers() {
        return problem.headers();
    }

    @Override
    public String toString() {
        return problem.status() + " " + problem.type();
    }
}
