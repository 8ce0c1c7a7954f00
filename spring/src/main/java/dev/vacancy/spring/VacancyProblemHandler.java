package dev.vacancy.spring;

import dev.vacancy.VacancyException;
import dev.vacancy.web.ProblemDetails;
import dev.vacancy.wording.Wording;
import java.net.URI;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.i18n.LocaleContextHolder;
import org.springframework.core.annotation.Order;
import org.springframework.http.HttpStatusCode;
import org.springframework.http.ProblemDetail;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RestControllerAdvice;

/**
 * Answers what Vacancy throws in a controller as problem details (RFC 9457), by the same table and in the same words as Vacancy's own
 * resources, in the language of the request. It comes before advice without an order, which may handle everything. Make a bean of it; {@code vacancy-web} has to be there.
 *
 * <p>It has no state.
 *
 * @since 0.1
 */
@RestControllerAdvice
@Order(0)
public class VacancyProblemHandler {
    private static final Logger LOG = LoggerFactory.getLogger(VacancyProblemHandler.class);
    private static final int FIRST_OF_SERVER = 500;

    /** Makes a handler. */
    public VacancyProblemHandler() {}

    /**
     * Answers a failure, one that Spring has translated too.
     *
     * @param failure what was thrown
     * @return status, header fields and members; {@code instance} is added by Spring
     */
    @ExceptionHandler
    public ResponseEntity<ProblemDetail> answer(VacancyException failure) {
        ProblemDetails problem = ProblemDetails.of(failure);
        if (problem.status() >= FIRST_OF_SERVER) {
            LOG.error("A request failed", failure);
        }
        Wording wording = Wording.of(LocaleContextHolder.getLocale());
        ProblemDetail detail =
                ProblemDetail.forStatusAndDetail(HttpStatusCode.valueOf(problem.status()), problem.detail());
        detail.setType(URI.create(problem.type()));
        detail.setTitle(problem.title(wording));
        problem.further().forEach(detail::setProperty);
        return ResponseEntity.status(problem.status())
                .headers(headers -> problem.headers().forEach(headers::set))
                .body(detail);
    }
}
