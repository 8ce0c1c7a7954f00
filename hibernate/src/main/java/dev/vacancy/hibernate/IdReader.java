package dev.vacancy.hibernate;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Table;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.hibernate.engine.spi.SessionFactoryImplementor;
import org.hibernate.metamodel.mapping.BasicValuedModelPart;
import org.hibernate.metamodel.mapping.CompositeIdentifierMapping;
import org.hibernate.metamodel.mapping.EmbeddableMappingType;
import org.hibernate.metamodel.mapping.EmbeddableValuedModelPart;
import org.hibernate.metamodel.mapping.EntityIdentifierMapping;
import org.hibernate.metamodel.mapping.JdbcMapping;
import org.hibernate.metamodel.mapping.ModelPart;
import org.hibernate.metamodel.mapping.SelectableMapping;
import org.hibernate.persister.entity.EntityPersister;

/** Makes ids of an entity out of the keys of its records. */
final class IdReader {
    private final SessionFactoryImplementor factory;
    private final EntityIdentifierMapping id;
    /** Where in a key the value of each column of the id stands. */
    private final Map<String, Integer> places = new HashMap<>();

    /**
     * Prepares to read.
     *
     * @param factory knows the types
     * @param entity the entity
     * @param columns the key's columns in the table, in the order in which the entity's id has them: those of a subclass's own table have
     *     other names
     * @param table the table of the keys
     */
    IdReader(SessionFactoryImplementor factory, EntityPersister entity, List<String> columns, Table table) {
        this.factory = factory;
        this.id = entity.getIdentifierMapping();
        id.forEachSelectable((index, column) -> {
            if (index < columns.size()) {
                places.put(column.getSelectionExpression(), place(columns.get(index), table.identity()));
            }
        });
    }

    private static int place(String column, List<Column> key) {
        for (int place = 0; place < key.size(); place++) {
            if (key.get(place).storedName().equalsIgnoreCase(column)) {
                return place;
            }
        }
        return -1;
    }

    /** The class of an entity's ids. */
    static Class<?> type(EntityPersister entity) {
        return entity.getIdentifierMapping() instanceof CompositeIdentifierMapping composite
                ? composite
                        .getMappedIdEmbeddableTypeDescriptor()
                        .getMappedJavaType()
                        .getJavaTypeClass()
                : entity.getIdentifierMapping().getJavaType().getJavaTypeClass();
    }

    /** The id that a key means; empty where the id has a shape that isn't known, or the key has other columns. */
    Optional<Object> read(Key key) {
        return id instanceof CompositeIdentifierMapping composite
                ? instance(composite.getMappedIdEmbeddableTypeDescriptor(), key)
                : value(id, key);
    }

    private Optional<Object> value(ModelPart part, Key key) {
        if (part instanceof EmbeddableValuedModelPart embedded) {
            return instance(embedded.getEmbeddableTypeDescriptor(), key);
        }
        if (!(part instanceof BasicValuedModelPart basic)) {
            return Optional.empty();
        }
        int place = places.getOrDefault(((SelectableMapping) basic).getSelectionExpression(), -1);
        if (place < 0) {
            return Optional.empty();
        }
        JdbcMapping type = basic.getJdbcMapping();
        return Optional.ofNullable(type.convertToDomainValue(
                type.getJdbcJavaType().wrap(key.values().get(place), factory.getWrapperOptions())));
    }

    private Optional<Object> instance(EmbeddableMappingType type, Key key) {
        Object[] parts = new Object[type.getNumberOfAttributeMappings()];
        for (int place = 0; place < parts.length; place++) {
            Optional<Object> part = value(type.getAttributeMapping(place), key);
            if (part.isEmpty()) {
                return Optional.empty();
            }
            parts[place] = part.get();
        }
        return Optional.of(type.getRepresentationStrategy().getInstantiator().instantiate(() -> parts));
    }
}
