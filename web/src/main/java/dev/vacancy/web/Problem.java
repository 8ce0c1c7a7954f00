package dev.vacancy.web;

import dev.vacancy.BlockedException;
import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.LockedException;
import dev.vacancy.StalePlanException;
import dev.vacancy.VacancyException;
import dev.vacancy.wording.Wording;
import jakarta.servlet.http.HttpServletResponse;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * What went wrong, as problem details (RFC 9457). The type is {@code urn:vacancy:problem:} and the failure's code; the title is the same for each
 * problem of a type, in the reader's language.
 *
 * @param status the status code
 * @param code what went wrong, in a word that stays
 * @param detail what went wrong this time, in a sentence
 * @param remedy what to do next
 * @param further members beside the standard ones
 * @param headers header fields that belong to it
 */
record Problem(
        int status,
        String code,
        String detail,
        String remedy,
        Map<String, Object> further,
        Map<String, String> headers) {
    static final int PRECONDITION_REQUIRED = 428;
    private static final int LOCKED = 423;
    private static final int CONTENT_TOO_LARGE = 413;
    private static final String INTEGRITY_CONSTRAINT = "23";
    private static final String CONNECTION = "08";
    private static final String AGAIN = "Retry-After";

    private static final Set<FailureCode> MISSING =
            Set.of(FailureCode.UNKNOWN_TABLE, FailureCode.UNKNOWN_RUN, FailureCode.NO_TRAIL);
    private static final Set<FailureCode> REFUSALS = Set.of(
            FailureCode.FORBIDDEN,
            FailureCode.APPROVAL_FORGED,
            FailureCode.APPROVAL_EXPIRED,
            FailureCode.APPROVAL_OF_ANOTHER);
    private static final Set<FailureCode> CONFLICTS = Set.of(
            FailureCode.CONFLICT,
            FailureCode.RUN_STATE,
            FailureCode.BLOCKED,
            FailureCode.NOT_AGREED,
            FailureCode.NO_COLLEAGUE);

    /** What the schema has is told to whoever may see it, by what is offered, and not by what is said of a wrong name. */
    private static final Map<FailureCode, String> WITHOUT_NAMES = Map.of(
            FailureCode.UNKNOWN_LINK, "The request names a link that isn't there.",
            FailureCode.UNKNOWN_COLUMN, "The request names a column that isn't there.",
            FailureCode.UNKNOWN_TABLE, "The request names a table that isn't there.",
            FailureCode.AMBIGUOUS_NAME, "The request names something of which there are several.");

    /** A problem on its way to the client. */
    static final class Raised extends RuntimeException {
        private static final long serialVersionUID = 1L;
        private final transient Problem problem;

        Raised(Problem problem) {
            super(problem.detail());
            this.problem = problem;
        }

        Problem problem() {
            return problem;
        }

        /** The same with a header field. */
        Raised with(String name, String value) {
            return new Raised(problem.with(name, value));
        }

        /** The same with a member beside the standard ones. */
        Raised telling(String name, Object value) {
            return new Raised(problem.telling(name, value));
        }
    }

    static Raised of(int status, String code, String detail, String remedy) {
        return new Raised(new Problem(status, code, detail, remedy, Map.of(), Map.of()));
    }

    /** The same with a header field. */
    Problem with(String name, String value) {
        Map<String, String> more = new LinkedHashMap<>(headers);
        more.put(name, value);
        return new Problem(status, code, detail, remedy, further, more);
    }

    /** The same with a member beside the standard ones. */
    Problem telling(String name, Object value) {
        Map<String, Object> more = new LinkedHashMap<>(further);
        more.put(name, value);
        return new Problem(status, code, detail, remedy, more, headers);
    }

    static Raised notFound() {
        return of(
                HttpServletResponse.SC_NOT_FOUND,
                "not-found",
                "There is nothing at this address.",
                "Check the address.");
    }

    static Raised tooLarge(int most) {
        return of(
                CONTENT_TOO_LARGE,
                "content-too-large",
                "The content of the request is larger than " + most + " bytes.",
                "Select by criteria, or send several requests.");
    }

    /** What should not have happened is told in the log only. */
    static Problem internal() {
        return new Problem(
                HttpServletResponse.SC_INTERNAL_SERVER_ERROR,
                "internal",
                "Something went wrong that should not.",
                "Look into the log of the server for the instance.",
                Map.of(),
                Map.of());
    }

    static Problem of(VacancyException failure) {
        if (failure instanceof DatabaseException database) {
            return ofDatabase(database);
        }
        Optional<String> unnamed = Optional.ofNullable(WITHOUT_NAMES.get(failure.code()));
        Map<String, Object> further = new LinkedHashMap<>();
        if (failure instanceof StalePlanException stale) {
            further.put("differences", stale.differences());
        }
        if (!failure.details().isEmpty() && unnamed.isEmpty()) {
            further.put("details", failure.details());
        }
        Problem problem = new Problem(
                status(failure),
                failure.code().text(),
                unnamed.orElseGet(failure::problem),
                unnamed.isPresent() ? "Check the names." : failure.remedy(),
                further,
                Map.of());
        return problem.status() == LOCKED ? problem.with(AGAIN, "1") : problem;
    }

    /** A driver's words can hold statements, addresses and names. */
    private static Problem ofDatabase(DatabaseException failure) {
        String state = failure.sqlState().orElse("");
        if (state.startsWith(INTEGRITY_CONSTRAINT)) {
            return new Problem(
                    HttpServletResponse.SC_CONFLICT,
                    "constraint",
                    "A constraint of the database forbids it. Nothing was changed.",
                    "Ask whoever knows the database.",
                    Map.of(),
                    Map.of());
        }
        Problem problem = new Problem(
                state.startsWith(CONNECTION)
                        ? HttpServletResponse.SC_SERVICE_UNAVAILABLE
                        : HttpServletResponse.SC_INTERNAL_SERVER_ERROR,
                failure.code().text(),
                "The database doesn't answer, or refused a statement.",
                "Look into the log of the server for the instance.",
                Map.of(),
                Map.of());
        return problem.status() == HttpServletResponse.SC_SERVICE_UNAVAILABLE ? problem.with(AGAIN, "5") : problem;
    }

    private static int status(VacancyException failure) {
        if (failure instanceof StalePlanException) {
            return HttpServletResponse.SC_PRECONDITION_FAILED;
        }
        if (failure instanceof LockedException) {
            return LOCKED;
        }
        if (failure instanceof BlockedException || CONFLICTS.contains(failure.code())) {
            return HttpServletResponse.SC_CONFLICT;
        }
        if (MISSING.contains(failure.code())) {
            return HttpServletResponse.SC_NOT_FOUND;
        }
        if (REFUSALS.contains(failure.code())) {
            return HttpServletResponse.SC_FORBIDDEN;
        }
        return failure instanceof InvalidRequestException
                ? HttpServletResponse.SC_BAD_REQUEST
                : HttpServletResponse.SC_INTERNAL_SERVER_ERROR;
    }

    String type() {
        return "urn:vacancy:problem:" + code;
    }

    /** Title and detail are for people, the remedy for whoever wrote the client. */
    Map<String, Object> json(Wording wording, String instance) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("type", type());
        json.put("title", wording.failure(code));
        json.put("status", status);
        json.put("detail", detail);
        json.put("instance", instance);
        json.put("remedy", remedy);
        json.putAll(further);
        return json;
    }
}
