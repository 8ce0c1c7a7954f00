package dev.vacancy.spring;

import dev.vacancy.BlockedException;
import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.LockedException;
import dev.vacancy.OutcomeUnknownException;
import dev.vacancy.StalePlanException;
import dev.vacancy.VacancyException;
import java.sql.SQLException;
import org.jspecify.annotations.Nullable;
import org.springframework.dao.CannotAcquireLockException;
import org.springframework.dao.DataAccessException;
import org.springframework.dao.DataAccessResourceFailureException;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.dao.IncorrectUpdateSemanticsDataAccessException;
import org.springframework.dao.InvalidDataAccessApiUsageException;
import org.springframework.dao.OptimisticLockingFailureException;
import org.springframework.dao.PermissionDeniedDataAccessException;
import org.springframework.dao.support.PersistenceExceptionTranslator;
import org.springframework.jdbc.support.SQLExceptionSubclassTranslator;
import org.springframework.jdbc.support.SQLExceptionTranslator;

/**
 * Gives Vacancy's exceptions as Spring's, so that whoever handles those of one store handles all. A bean of it is taken by Spring for
 * everything in a {@code @Repository}. The original is the cause.
 *
 * <table>
 * <caption>What becomes of what</caption>
 * <tr><th>Vacancy</th><th>Spring</th></tr>
 * <tr><td>{@link StalePlanException}</td><td>{@link OptimisticLockingFailureException}</td></tr>
 * <tr><td>{@link LockedException}</td><td>{@link CannotAcquireLockException}</td></tr>
 * <tr><td>{@link BlockedException}, {@link FailureCode#CONFLICT}</td><td>{@link DataIntegrityViolationException}</td></tr>
 * <tr><td>{@link FailureCode#FORBIDDEN}</td><td>{@link PermissionDeniedDataAccessException}</td></tr>
 * <tr><td>{@link FailureCode#UNEXPECTED_COUNT}</td><td>{@link IncorrectUpdateSemanticsDataAccessException}</td></tr>
 * <tr><td>{@link OutcomeUnknownException}</td><td>{@link DataAccessResourceFailureException}</td></tr>
 * <tr><td>{@link DatabaseException}</td><td>what its SQLSTATE or its class says</td></tr>
 * <tr><td>any other {@link InvalidRequestException}</td><td>{@link InvalidDataAccessApiUsageException}</td></tr>
 * </table>
 *
 * <p>It has no state.
 *
 * @since 0.1
 */
public final class VacancyExceptionTranslator implements PersistenceExceptionTranslator {
    private static final SQLExceptionTranslator SQL = new SQLExceptionSubclassTranslator();

    /** Makes a translator. */
    public VacancyExceptionTranslator() {}

    /**
     * {@inheritDoc}
     *
     * @return Spring's exception with the same message; null for what isn't Vacancy's, or has no counterpart
     */
    @Override
    public @Nullable DataAccessException translateExceptionIfPossible(RuntimeException exception) {
        return exception instanceof VacancyException failure ? translated(failure) : null;
    }

    private static @Nullable DataAccessException translated(VacancyException failure) {
        String message = failure.getMessage();
        if (failure instanceof StalePlanException) {
            return new OptimisticLockingFailureException(message, failure);
        }
        if (failure instanceof LockedException) {
            return new CannotAcquireLockException(message, failure);
        }
        if (failure instanceof BlockedException || failure.code() == FailureCode.CONFLICT) {
            return new DataIntegrityViolationException(message, failure);
        }
        if (failure instanceof OutcomeUnknownException) {
            return new DataAccessResourceFailureException(message, failure);
        }
        if (failure instanceof DatabaseException) {
            return ofDatabase(failure);
        }
        if (failure.code() == FailureCode.FORBIDDEN) {
            return new PermissionDeniedDataAccessException(message, failure);
        }
        if (failure.code() == FailureCode.UNEXPECTED_COUNT) {
            return new IncorrectUpdateSemanticsDataAccessException(message, failure);
        }
        return failure instanceof InvalidRequestException
                ? new InvalidDataAccessApiUsageException(message, failure)
                : null;
    }

    /** Spring knows the kinds of what databases say. */
    private static @Nullable DataAccessException ofDatabase(VacancyException failure) {
        DataAccessException kind =
                failure.getCause() instanceof SQLException cause ? SQL.translate("Vacancy", null, cause) : null;
        if (kind != null) {
            kind.addSuppressed(failure);
        }
        return kind;
    }
}
