package dev.vacancy.hibernate;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.engine.ChangedRecords;
import dev.vacancy.internal.engine.RecordCache;
import jakarta.persistence.EntityManager;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import org.hibernate.FlushMode;
import org.hibernate.engine.spi.EntityHolder;
import org.hibernate.engine.spi.SessionFactoryImplementor;
import org.hibernate.engine.spi.SessionImplementor;
import org.jspecify.annotations.Nullable;

/** What Hibernate holds of records: the session of the thread, and the second-level cache. */
final class EntityCache implements RecordCache {
    private final SessionFactoryImplementor factory;
    private final Mapping mapping;
    private final Supplier<Optional<EntityManager>> current;
    /** Of the catalog that was deleted by last: most often there is only one. */
    private volatile @Nullable MappedRecords last;

    EntityCache(SessionFactoryImplementor factory, Mapping mapping, Supplier<Optional<EntityManager>> current) {
        this.factory = factory;
        this.mapping = mapping;
        this.current = current;
    }

    private MappedRecords records(Catalog catalog) {
        MappedRecords known = last;
        if (known == null || !known.isOf(catalog)) {
            known = new MappedRecords(mapping, catalog);
            last = known;
        }
        return known;
    }

    private SharedEntities shared(Catalog catalog) {
        return new SharedEntities(factory, mapping, catalog, records(catalog));
    }

    private Optional<SessionImplementor> session() {
        return current.get().map(open -> open.unwrap(SessionImplementor.class)).filter(SessionImplementor::isOpen);
    }

    /** A session that only flushes by hand is left to whoever decided so. */
    @Override
    public void flush() {
        session()
                .filter(session -> session.isTransactionInProgress() && session.isJoinedToTransaction())
                .filter(session -> session.getHibernateFlushMode() != FlushMode.MANUAL)
                .ifPresent(SessionImplementor::flush);
    }

    @Override
    public Collection<Table> held(Catalog catalog) {
        Set<Table> tables = new LinkedHashSet<>(shared(catalog).cachedTables());
        MappedRecords mapped = records(catalog);
        session()
                .ifPresent(session -> HeldEntities.all(session).stream()
                        .map(EntityHolder::getDescriptor)
                        .distinct()
                        .forEach(entity -> tables.addAll(mapped.tables(entity))));
        return tables;
    }

    @Override
    public void forget(ChangedRecords changed, Catalog catalog) {
        session().ifPresent(session -> new HeldEntities(session, records(catalog)).forget(changed));
    }

    @Override
    public void forgetShared(ChangedRecords changed, Catalog catalog) {
        shared(catalog).forget(changed);
    }
}
