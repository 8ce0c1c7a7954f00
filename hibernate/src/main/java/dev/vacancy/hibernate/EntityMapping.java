package dev.vacancy.hibernate;

import static java.util.Objects.requireNonNull;

import dev.vacancy.Vacancy;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.engine.Engine;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.internal.rules.DerivedRules;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import jakarta.persistence.EntityManager;
import jakarta.persistence.EntityManagerFactory;
import java.time.Clock;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import org.hibernate.engine.spi.SessionFactoryImplementor;

/**
 * What Hibernate's mapping says of deletion, so that no rule has to repeat it: what goes along with an entity, what is a part of it, how
 * it is marked when it is deleted, and where its changes are counted.
 *
 * <pre>{@code
 * EntityMapping mapping = EntityMapping.of(entityManagerFactory);
 * Vacancy vacancy = mapping.attach(
 *     Vacancy.over(dataSource, mapping.rules(), transactions),
 *     () -> Optional.of(entityManager));
 * }</pre>
 *
 * <p>It is safe for use by many threads.
 *
 * @since 0.1
 */
public final class EntityMapping {
    private final SessionFactoryImplementor factory;
    private final Mapping mapping;

    private EntityMapping(SessionFactoryImplementor factory, Mapping mapping) {
        this.factory = factory;
        this.mapping = mapping;
    }

    /**
     * Takes the mapping of an application.
     *
     * @param factory what makes its entity managers; Hibernate's own, or a proxy of it
     * @return the mapping
     * @throws jakarta.persistence.PersistenceException when it isn't Hibernate's
     * @throws IllegalStateException when Hibernate didn't find {@link MappingIntegrator} as it started, or its mapping can't be read
     */
    public static EntityMapping of(EntityManagerFactory factory) {
        SessionFactoryImplementor sessions = requireNonNull(factory, "factory").unwrap(SessionFactoryImplementor.class);
        return new EntityMapping(
                sessions,
                MappingIntegrator.mappingOf(sessions)
                        .orElseThrow(() -> new IllegalStateException(
                                "Hibernate started without vacancy-hibernate, so that its mapping isn't known. Put both on the same"
                                        + " class path, and let Hibernate find integrators by itself.")));
    }

    /**
     * Returns the rules of schema and mapping.
     *
     * @return rules that are worked out when the catalog is known
     */
    public RuleBook rules() {
        return rules(RuleBook.bySchema());
    }

    /**
     * Returns the application's own rules, and those of the mapping where it says nothing itself: about a link, about a table's marker, or
     * about what counts a table's changes.
     *
     * @param own what the application says
     * @return the larger book; what else is derived is worked out when the catalog is known
     */
    public RuleBook rules(RuleBook own) {
        return WrittenRules.of(requireNonNull(own, "own"))
                .deriving(catalog -> Derivation.of(mapping, catalog).result());
    }

    /**
     * Tells which rules the mapping states, and where it does, those among them that the application's own take the place of.
     *
     * @param catalog what the database holds, as {@link Vacancy#catalog} returns it
     * @return the rules by their tables
     */
    public List<DerivedRule> derived(Catalog catalog) {
        Set<String> kept = settled(catalog).book().origins();
        return Derivation.of(mapping, catalog).rules().stream()
                .filter(rule -> kept.contains(rule.origin()))
                .toList();
    }

    /**
     * Tells where mapping and schema disagree, and what of the mapping no rule can be made of. {@link Vacancy#check} tells it too.
     *
     * @param catalog what the database holds, as {@link Vacancy#catalog} returns it
     * @return what was found; empty if all is well
     */
    public List<Finding> check(Catalog catalog) {
        return settled(catalog).findings();
    }

    private DerivedRules settled(Catalog catalog) {
        DatabaseCatalog known = DatabaseCatalog.of(requireNonNull(catalog, "catalog"));
        return DerivedRules.of(rules(), known.declared(), Clock.system(ZoneId.systemDefault()));
    }

    /**
     * Keeps sessions and caches in step. Inside a transaction of the entity manager's, whatever it hasn't written yet is flushed before
     * anything is planned or deleted. What a deletion took is detached, and taken out of loaded collections; what it changed is read
     * again. Of the second-level cache just these entities are evicted, and the results of queries on their tables; again after
     * the commit.
     *
     * @param vacancy what deletes
     * @param current gives the entity manager of the thread, if it has one; it is asked each time
     * @return the entry to all else, over the same catalog and rules
     */
    public Vacancy attach(Vacancy vacancy, Supplier<Optional<EntityManager>> current) {
        requireNonNull(vacancy, "vacancy");
        requireNonNull(current, "current");
        return Engine.of(vacancy)
                .withCache(new EntityCache(factory, mapping, current))
                .entry();
    }

    /**
     * Returns what deletes entities of one class, by ids and attributes.
     *
     * @param <E> the entity
     * @param <ID> its id
     * @param vacancy what deletes, best one that is {@linkplain #attach attached}
     * @param entity its class
     * @return its deletions, by the same rules
     * @throws dev.vacancy.InvalidRequestException when it isn't an entity, or its table isn't there
     */
    public <E, ID> Deletions<E, ID> deletions(Vacancy vacancy, Class<E> entity) {
        requireNonNull(vacancy, "vacancy");
        requireNonNull(entity, "entity");
        return new EntityDeletions<>(factory, mapping, vacancy, entity);
    }

    @Override
    public String toString() {
        return "the mapping of " + mapping.entities().size() + " entities";
    }
}
