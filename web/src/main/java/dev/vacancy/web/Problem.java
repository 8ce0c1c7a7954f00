package dev.vacancy.web;

import dev.vacancy.failure.FailureCode;
import dev.vacancy.failure.InvalidRequestException;
import dev.vacancy.failure.LockedException;
import dev.vacancy.failure.VacancyException;
import dev.vacancy.plan.BlockedException;
import dev.vacancy.run.StalePlanException;
import dev.vacancy.wording.Wording;
import jakarta.servlet.http.HttpServletResponse;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;

/**
 * What went wrong, as problem details (RFC 9457). The type is {@code urn:vacancy:problem:} and the failure's code.
 *
 * @param status the status code
 * @param code what went wrong, in a word that stays
 * @param title what went wrong, in a sentence
 * @param detail what to do next
 * @param further members beside the standard ones
 */
record Problem(int status, String code, String title, String detail, Map<String, Object> further) {
    static final int PRECONDITION_REQUIRED = 428;
    private static final int LOCKED = 423;
    private static final int CONTENT_TOO_LARGE = 413;

    private static final Set<FailureCode> MISSING =
            Set.of(FailureCode.UNKNOWN_TABLE, FailureCode.UNKNOWN_RUN, FailureCode.NO_TRAIL);
    private static final Set<FailureCode> REFUSALS = Set.of(
            FailureCode.FORBIDDEN,
            FailureCode.APPROVAL_FORGED,
            FailureCode.APPROVAL_EXPIRED,
            FailureCode.APPROVAL_OF_ANOTHER);
    private static final Set<FailureCode> CONFLICTS =
            Set.of(FailureCode.CONFLICT, FailureCode.RUN_STATE, FailureCode.BLOCKED);

    /** A problem on its way to the client. */
    static final class Raised extends RuntimeException {
        private static final long serialVersionUID = 1L;
        private final transient Problem problem;

        Raised(Problem problem) {
            super(problem.title());
            this.problem = problem;
        }

        Problem problem() {
            return problem;
        }
    }

    static Raised of(int status, String code, String title, String detail) {
        return new Raised(new Problem(status, code, title, detail, Map.of()));
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

    static Problem of(VacancyException failure) {
        Map<String, Object> further = new LinkedHashMap<>();
        if (failure instanceof StalePlanException stale) {
            further.put("differences", stale.differences());
        }
        if (!failure.details().isEmpty()) {
            further.put("details", failure.details());
        }
        return new Problem(status(failure), failure.code().text(), failure.problem(), failure.remedy(), further);
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
        if (failure.code() == FailureCode.NOT_AGREED) {
            return PRECONDITION_REQUIRED;
        }
        return failure instanceof InvalidRequestException
                ? HttpServletResponse.SC_BAD_REQUEST
                : HttpServletResponse.SC_INTERNAL_SERVER_ERROR;
    }

    /** Title and detail are for whoever wrote the client, the message is for whoever uses it. */
    Map<String, Object> json(Wording wording) {
        Map<String, Object> json = new LinkedHashMap<>();
        json.put("type", "urn:vacancy:problem:" + code);
        json.put("title", title);
        json.put("status", status);
        json.put("detail", detail);
        json.put("message", wording.failure(code));
        json.putAll(further);
        return json;
    }
}
