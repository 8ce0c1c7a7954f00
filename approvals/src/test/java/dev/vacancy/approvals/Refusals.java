package dev.vacancy.approvals;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.vacancy.FailureCode;
import dev.vacancy.VacancyException;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;

/** Holds what is refused against the kind of refusal. */
final class Refusals {
    private Refusals() {}

    static void assertRefused(ThrowingCallable call, FailureCode code) {
        assertThatThrownBy(call)
                .isInstanceOfSatisfying(
                        VacancyException.class,
                        failure -> assertThat(failure.code()).isEqualTo(code));
    }
}
