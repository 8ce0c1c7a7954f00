package dev.vacancy.spring.boot;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.ColumnCriteria;
import dev.vacancy.Criteria;
import dev.vacancy.Permissions;
import dev.vacancy.Plan;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.hibernate.Deletions;
import dev.vacancy.hibernate.EntityMapping;
import dev.vacancy.hibernate.EntityOutcome;
import dev.vacancy.history.RestoreOutcome;
import java.util.Collection;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.data.repository.core.RepositoryMethodContext;
import org.springframework.data.repository.core.support.RepositoryMetadataAccess;

/**
 * Deletions as a part of a repository, of the entity that the repository is for. Spring Data makes it for each that extends {@link
 * Deletions}.
 */
final class RepositoryDeletions<E, ID> implements Deletions<E, ID>, RepositoryMetadataAccess {
    private final ObjectProvider<EntityMapping> mapping;
    private final ObjectProvider<Vacancy> vacancy;
    private final Map<Class<?>, Deletions<E, ID>> byEntity = new ConcurrentHashMap<>();

    /** Made by Spring Data, which has the repositories made before what deletes. */
    RepositoryDeletions(ObjectProvider<EntityMapping> mapping, ObjectProvider<Vacancy> vacancy) {
        this.mapping = mapping;
        this.vacancy = vacancy;
    }

    private Deletions<E, ID> here() {
        @SuppressWarnings("unchecked") // a repository is of the entity that its type says
        Class<E> entity =
                (Class<E>) RepositoryMethodContext.getContext().getMetadata().getDomainType();
        return byEntity.computeIfAbsent(entity, missing -> mapping.getObject().deletions(vacancy.getObject(), entity));
    }

    @Override
    public Selection selectId(ID id) {
        return here().selectId(id);
    }

    @Override
    public Selection selectIds(Collection<? extends ID> ids) {
        return here().selectIds(ids);
    }

    @Override
    public Selection selectEntity(E entity) {
        return here().selectEntity(entity);
    }

    @Override
    public Selection select(Criteria criteria) {
        return here().select(criteria);
    }

    @Override
    public ColumnCriteria<Object> attribute(String name) {
        return here().attribute(name);
    }

    @Override
    public Plan plan(Selection selection, By by) {
        return here().plan(selection, by);
    }

    @Override
    public EntityOutcome<ID> run(Approval approval) {
        return here().run(approval);
    }

    @Override
    public EntityOutcome<ID> delete(Selection selection, By by) {
        return here().delete(selection, by);
    }

    @Override
    public RestoreOutcome restore(UUID run, By by) {
        return here().restore(run, by);
    }

    @Override
    public Deletions<E, ID> actingFor(By by, Permissions permissions) {
        return here().actingFor(by, permissions);
    }

    @Override
    public RestoreOutcome restoreId(ID id, By by) {
        return here().restoreId(id, by);
    }

    @Override
    public RestoreOutcome restoreEntity(E entity, By by) {
        return here().restoreEntity(entity, by);
    }
}
