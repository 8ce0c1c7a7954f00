package dev.vacancy.hibernate;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Table;
import dev.vacancy.hibernate.Mapping.KeyedTable;
import dev.vacancy.internal.engine.ChangedRecords;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.stream.Collectors;
import org.hibernate.cache.spi.CacheImplementor;
import org.hibernate.engine.spi.SessionFactoryImplementor;
import org.hibernate.engine.spi.SessionImplementor;
import org.hibernate.metamodel.spi.MappingMetamodelImplementor;
import org.hibernate.persister.entity.EntityPersister;

/** What all sessions share: entities and collections in the second-level cache, and results of queries. */
final class SharedEntities {
    private final SessionFactoryImplementor factory;
    private final Mapping mapping;
    private final Catalog catalog;
    private final MappedRecords records;

    SharedEntities(SessionFactoryImplementor factory, Mapping mapping, Catalog catalog, MappedRecords records) {
        this.factory = factory;
        this.mapping = mapping;
        this.catalog = catalog;
        this.records = records;
    }

    /** The tables of which entities are in the second-level cache. */
    Set<Table> cachedTables() {
        Set<Table> tables = new LinkedHashSet<>();
        metamodel().forEachEntityDescriptor(entity -> {
            if (entity.canWriteToCache()) {
                tables.addAll(records.tables(entity));
            }
        });
        return tables;
    }

    private MappingMetamodelImplementor metamodel() {
        return factory.getMappingMetamodel();
    }

    void forget(ChangedRecords change) {
        CacheImplementor cache = factory.getCache();
        metamodel().forEachEntityDescriptor(entity -> {
            if (entity.canWriteToCache()) {
                records.keyed(entity).forEach((keyed, table) -> {
                    if (change.tables().contains(table.name())) {
                        forget(entity, keyed, table, change);
                    }
                });
            }
            if (entity.hasNaturalIdCache()
                    && records.tables(entity).stream()
                            .anyMatch(table -> change.tables().contains(table.name()))) {
                cache.evictNaturalIdData(entity.getEntityName());
            }
        });
        metamodel().forEachCollectionDescriptor(collection -> {
            if (collection.hasCache() && isChanged(mapping.collections().get(collection.getRole()), change)) {
                cache.evictCollectionData(collection.getRole());
            }
        });
        if (factory.getSessionFactoryOptions().isQueryCacheEnabled()) {
            String[] spaces = spaces(change);
            try (SessionImplementor session = factory.openTemporarySession()) {
                cache.getTimestampsCache().invalidate(spaces, session);
            }
        }
    }

    private void forget(EntityPersister entity, KeyedTable keyed, Table table, ChangedRecords change) {
        CacheImplementor cache = factory.getCache();
        Set<Key> gone = change.gone().get(table.name());
        if (gone == null) {
            cache.evictEntityData(entity.getEntityName());
            return;
        }
        IdReader reader = new IdReader(factory, entity, keyed.key(), table);
        for (Set<Key> keys : List.of(gone, change.changed().getOrDefault(table.name(), Set.of()))) {
            for (Key key : keys) {
                reader.read(key)
                        .ifPresentOrElse(
                                id -> cache.evictEntityData(entity.getEntityName(), id),
                                () -> cache.evictEntityData(entity.getEntityName()));
            }
        }
    }

    private boolean isChanged(MappedTable table, ChangedRecords change) {
        return table.in(catalog)
                .filter(there -> change.tables().contains(there.name()))
                .isPresent();
    }

    /** The names that queries are kept by: those of tables, as the mapper writes them. */
    private String[] spaces(ChangedRecords change) {
        Set<String> changed = change.tables().stream()
                .map(name -> catalog.table(name).storedName().toLowerCase(Locale.ROOT))
                .collect(Collectors.toSet());
        Set<String> spaces = new LinkedHashSet<>();
        metamodel().forEachEntityDescriptor(entity -> spaces.addAll(List.of((String[]) entity.getQuerySpaces())));
        metamodel().forEachCollectionDescriptor(collection -> spaces.addAll(List.of(collection.getCollectionSpaces())));
        return spaces.stream()
                .filter(space -> changed.contains(MappedTable.bare(space.substring(space.lastIndexOf('.') + 1))
                        .toLowerCase(Locale.ROOT)))
                .toArray(String[]::new);
    }
}
