package dev.vacancy.spring.boot;

import dev.vacancy.VacancyException;
import org.springframework.boot.diagnostics.AbstractFailureAnalyzer;
import org.springframework.boot.diagnostics.FailureAnalysis;

/**
 * Says why an application doesn't start because of its rules, and what to do: without a stack trace.
 *
 * @since 0.1
 */
public final class VacancyFailureAnalyzer extends AbstractFailureAnalyzer<VacancyException> {
    /** Made by Spring Boot. */
    public VacancyFailureAnalyzer() {}

    @Override
    protected FailureAnalysis analyze(Throwable root, VacancyException cause) {
        return new FailureAnalysis(cause.problem(), cause.remedy(), cause);
    }
}
