package dev.vacancy.spring;

import static java.util.Objects.requireNonNull;

import jakarta.persistence.EntityManager;
import jakarta.persistence.EntityManagerFactory;
import java.util.Optional;
import java.util.function.Supplier;
import org.springframework.orm.jpa.EntityManagerHolder;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * The entity manager that Spring has bound to a thread: to its transaction, or to the request that it answers.
 *
 * <pre>{@code
 * EntityMapping mapping = EntityMapping.of(factory);
 * Vacancy vacancy = mapping.attach(Vacancy.over(source, mapping.rules(), SpringTransactions.of(source)), CurrentEntityManager.of(factory));
 * }</pre>
 *
 * @since 0.1
 */
public final class CurrentEntityManager {
    private CurrentEntityManager() {}

    /**
     * Tells of the entity managers of a factory.
     *
     * @param factory the factory that the transaction manager has
     * @return gives the one of the thread, and empty where there is none
     */
    public static Supplier<Optional<EntityManager>> of(EntityManagerFactory factory) {
        requireNonNull(factory, "factory");
        return () -> TransactionSynchronizationManager.getResource(factory) instanceof EntityManagerHolder holder
                ? Optional.of(holder.getEntityManager())
                : Optional.empty();
    }
}
