package dev.vacancy.hibernate;

import dev.vacancy.hibernate.MappedLink.Treatment;
import dev.vacancy.hibernate.Mapping.KeyedTable;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.Marker;
import java.lang.invoke.MethodType;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.hibernate.annotations.SoftDeleteType;
import org.hibernate.boot.Metadata;
import org.hibernate.boot.model.naming.Identifier;
import org.hibernate.engine.spi.CascadingActions;
import org.hibernate.mapping.Any;
import org.hibernate.mapping.BasicValue;
import org.hibernate.mapping.Collection;
import org.hibernate.mapping.Column;
import org.hibernate.mapping.Component;
import org.hibernate.mapping.IndexedCollection;
import org.hibernate.mapping.Join;
import org.hibernate.mapping.KeyValue;
import org.hibernate.mapping.ManyToOne;
import org.hibernate.mapping.OneToMany;
import org.hibernate.mapping.OneToOne;
import org.hibernate.mapping.PersistentClass;
import org.hibernate.mapping.Property;
import org.hibernate.mapping.RootClass;
import org.hibernate.mapping.Table;
import org.hibernate.mapping.ToOne;
import org.hibernate.mapping.UnionSubclass;
import org.hibernate.mapping.Value;
import org.jspecify.annotations.Nullable;

/** Reads what a mapping says of deletion. */
final class MappingReader {
    private final Metadata metadata;
    private final @Nullable Identifier usualSchema;
    private final Map<String, List<KeyedTable>> entities = new HashMap<>();
    private final Map<String, MappedTable> collections = new HashMap<>();
    private final List<MappedLink> links = new ArrayList<>();
    private final List<Mapping.SoftTable> softTables = new ArrayList<>();
    private final List<Mapping.VersionOf> versions = new ArrayList<>();
    private final List<Finding> findings = new ArrayList<>();

    MappingReader(Metadata metadata) {
        this.metadata = metadata;
        this.usualSchema =
                metadata.getDatabase().getDefaultNamespace().getPhysicalName().schema();
    }

    Mapping read() {
        metadata.getEntityBindings().stream()
                .filter(entity -> entity.getTable().isPhysicalTable()
                        && !entity.getTable().isSubselect())
                .forEach(this::read);
        for (Collection collection : metadata.getCollectionBindings()) {
            collections.put(collection.getRole(), table(collection.getCollectionTable()));
        }
        return new Mapping(entities, collections, links, softTables, versions, findings);
    }

    private void read(PersistentClass entity) {
        String name = entity.getJpaEntityName();
        entities.put(entity.getEntityName(), tablesOf(entity));
        PersistentClass parent = entity.getSuperclass();
        if (parent != null && entity.isJoinedSubclass()) {
            link(entity.getKey(), parent.getTable(), columns(parent.getKey()), Treatment.PART)
                    .says(name, "a subclass of " + parent.getJpaEntityName());
        }
        for (Join join : entity.getJoins()) {
            if (!join.isInverse()) {
                link(join.getKey(), entity.getTable(), columns(entity.getKey()), Treatment.PART)
                        .says(name, "a secondary table");
            }
        }
        if (entity.getCustomSQLDelete() != null) {
            finding(name, "its own SQL deletes it, which no rule can be made of", "give a rule for its table");
        }
        if (entity instanceof RootClass root) {
            readRoot(root);
        }
        if (entity.hasIdentifierProperty() && entity.getDeclaredIdentifierProperty() != null) {
            read(entity, name, entity.getDeclaredIdentifierProperty());
        }
        entity.getProperties().forEach(property -> read(entity, name, property));
    }

    private List<KeyedTable> tablesOf(PersistentClass entity) {
        List<KeyedTable> tables = new ArrayList<>();
        tables.add(keyed(entity.getTable(), entity.getKey()));
        for (PersistentClass above = entity;
                above.isJoinedSubclass() && above.getSuperclass() != null;
                above = above.getSuperclass()) {
            tables.add(keyed(
                    above.getSuperclass().getTable(), above.getSuperclass().getKey()));
        }
        entity.getJoinClosure().forEach(join -> tables.add(keyed(join.getTable(), join.getKey())));
        return tables;
    }

    private KeyedTable keyed(Table table, KeyValue key) {
        return new KeyedTable(table(table), columns(key));
    }

    private void readRoot(RootClass root) {
        String name = root.getJpaEntityName();
        softDelete(root.getSoftDeleteStrategy(), root.getSoftDeleteColumn(), root.getTable(), name);
        Property version = root.getVersion();
        if (version != null) {
            String origin = name + "." + version.getName();
            String column = version.getColumns().get(0).getName();
            if (Number.class.isAssignableFrom(boxed(version.getType().getReturnedClass()))) {
                versions.add(new Mapping.VersionOf(table(version.getValue().getTable()), column, origin));
            } else {
                finding(
                        origin,
                        "it holds a time, so that a change of ours isn't counted by it",
                        "count changes in a whole number, or name the columns of the last change in the rules");
            }
        }
    }

    private static Class<?> boxed(Class<?> type) {
        return MethodType.methodType(type).wrap().returnType();
    }

    private void softDelete(@Nullable SoftDeleteType strategy, @Nullable Column column, Table table, String origin) {
        if (strategy == null || column == null) {
            return;
        }
        String name = column.getName();
        softTables.add(new Mapping.SoftTable(
                table(table),
                name,
                strategy == SoftDeleteType.TIMESTAMP
                        ? Marker.timestamp(name)
                        : Marker.flag(name, stored(column, false), stored(column, true)),
                origin));
    }

    /** What stands in the column; where it says what is active, the mapper has turned the conversion round by itself. */
    private static Object stored(Column column, boolean deleted) {
        return ((BasicValue) column.getValue()).resolve().getJdbcMapping().convertToRelationalValue(deleted);
    }

    private void read(PersistentClass entity, String path, Property property) {
        String origin = path + "." + property.getName();
        Value value = property.getValue();
        if (value instanceof Component component) {
            component.getProperties().forEach(part -> read(entity, origin, part));
        } else if (value instanceof ManyToOne reference) {
            refer(reference, origin, property, property.isOptional());
        } else if (value instanceof OneToOne other) {
            readOneToOne(entity, other, origin, property);
        } else if (value instanceof Collection collection) {
            readCollection(entity, collection, origin, property);
        } else if (value instanceof Any) {
            finding(
                    origin,
                    "it points to records of several tables, of which no link can be made",
                    "say in the rules what becomes of them");
        }
    }

    private static boolean removes(Property property) {
        return property.getCascadeStyle().doCascade(CascadingActions.REMOVE);
    }

    /** A foreign key of the record's own. */
    private void refer(ManyToOne reference, String origin, Property property, boolean optional) {
        PersistentClass target = metadata.getEntityBinding(reference.getReferencedEntityName());
        if (isSeveralTables(target)) {
            finding(
                    origin,
                    target.getJpaEntityName() + " has a table for each of its classes, so that no link can be made",
                    "say in the rules what becomes of them");
            return;
        }
        link(reference, target, reference.isIgnoreNotFound() ? Treatment.KEEP : Treatment.REFERENCE)
                .optional(optional)
                .owned(removes(property))
                .says(origin, removes(property) ? said(property) : "a reference");
    }

    private void readOneToOne(PersistentClass entity, OneToOne other, String origin, Property property) {
        PersistentClass target = metadata.getEntityBinding(other.getReferencedEntityName());
        if (other.getMappedByProperty() != null) {
            if (removes(property)) {
                Value back =
                        target.getRecursiveProperty(other.getMappedByProperty()).getValue();
                KeyValue foreignKey = back instanceof OneToOne ? target.getKey() : (KeyValue) back;
                link(foreignKey, entity.getTable(), columns(entity.getKey()), Treatment.CASCADE)
                        .says(origin, said(property));
            }
        } else if (other.isConstrained()) {
            link(entity.getKey(), target.getTable(), columns(target.getKey()), Treatment.REFERENCE)
                    .owned(removes(property))
                    .says(origin, removes(property) ? said(property) : "a reference by its key");
        }
    }

    private static String said(Property property) {
        return property.getCascade().contains("orphan") ? "orphanRemoval" : "cascade REMOVE";
    }

    private void readCollection(PersistentClass entity, Collection collection, String origin, Property property) {
        Table parent = collection.getReferencedPropertyName() == null
                ? entity.getTable()
                : entity.getReferencedProperty(collection.getReferencedPropertyName())
                        .getValue()
                        .getTable();
        List<String> key = collection.getReferencedPropertyName() == null
                ? columns(entity.getKey())
                : columns(entity.getReferencedProperty(collection.getReferencedPropertyName())
                        .getValue());
        boolean removes = removes(property) || collection.hasOrphanDelete();
        if (collection.getElement() instanceof OneToMany many) {
            Treatment treatment = Treatment.REFERENCE;
            if (removes) {
                treatment = Treatment.CASCADE;
            } else if (collection.getKey().isCascadeDeleteEnabled()) {
                treatment = Treatment.DATABASE;
            } else if (!collection.isInverse() && collection.getKey().isNullable()) {
                treatment = Treatment.DETACH;
            }
            if (treatment != Treatment.REFERENCE && !isSeveralTables(many.getAssociatedClass())) {
                link(collection.getKey(), parent, key, treatment)
                        .says(
                                origin,
                                treatment == Treatment.CASCADE
                                        ? said(property)
                                        : "a collection that owns the foreign key");
            }
            return;
        }
        softDelete(
                collection.getSoftDeleteStrategy(),
                collection.getSoftDeleteColumn(),
                collection.getCollectionTable(),
                origin);
        if (!collection.isInverse()) {
            link(collection.getKey(), parent, key, Treatment.CASCADE)
                    .says(
                            origin,
                            collection.getElement() instanceof ManyToOne ? "a join table" : "a collection of values");
        }
        readElements(entity, collection, origin, property, removes);
    }

    private void readElements(
            PersistentClass entity, Collection collection, String origin, Property property, boolean removes) {
        if (collection.getElement() instanceof Component component) {
            component.getProperties().forEach(part -> read(entity, origin, part));
        }
        if (collection instanceof IndexedCollection indexed && indexed.getIndex() instanceof ManyToOne index) {
            refer(index, origin, property, false);
        }
        if (collection.getElement() instanceof ManyToOne element && !collection.isInverse()) {
            link(element, metadata.getEntityBinding(element.getReferencedEntityName()), Treatment.REFERENCE)
                    .owned(removes)
                    .says(origin, removes ? said(property) : "a join table");
        }
    }

    private static boolean isSeveralTables(PersistentClass target) {
        return target.getSubclasses().stream().anyMatch(UnionSubclass.class::isInstance);
    }

    private void finding(String where, String why, String remedy) {
        findings.add(new Finding(Finding.Kind.MAPPING, where, why, remedy));
    }

    private Draft link(ToOne reference, PersistentClass target, Treatment treatment) {
        if (reference.isReferenceToPrimaryKey() || reference.getReferencedPropertyName() == null) {
            return link(reference, target.getTable(), columns(target.getKey()), treatment);
        }
        Value referenced = target.getReferencedProperty(reference.getReferencedPropertyName())
                .getValue();
        return link(reference, referenced.getTable(), columns(referenced), treatment);
    }

    private Draft link(KeyValue foreignKey, Table parent, List<String> key, Treatment treatment) {
        return new Draft(foreignKey, parent, key, treatment, foreignKey.isNullable());
    }

    /** A link of which the mapping's words are still missing. */
    private final class Draft {
        private final KeyValue foreignKey;
        private final Table parent;
        private final List<String> key;
        private final Treatment treatment;
        private boolean optional;
        private boolean owned;

        Draft(KeyValue foreignKey, Table parent, List<String> key, Treatment treatment, boolean optional) {
            this.foreignKey = foreignKey;
            this.parent = parent;
            this.key = key;
            this.treatment = treatment;
            this.optional = optional;
        }

        Draft optional(boolean allowed) {
            optional = allowed;
            return this;
        }

        Draft owned(boolean goesWithTheLast) {
            owned = goesWithTheLast;
            return this;
        }

        void says(String origin, String why) {
            if (foreignKey.hasFormula() || parent.isAbstractUnionTable() || !parent.isPhysicalTable()) {
                return;
            }
            links.add(new MappedLink(
                    table(foreignKey.getTable()),
                    columns(foreignKey),
                    table(parent),
                    key,
                    treatment,
                    owned,
                    isEnforced(),
                    optional,
                    origin,
                    why));
        }

        private boolean isEnforced() {
            List<Column> columns = foreignKey.getColumns();
            return foreignKey.getTable().getForeignKeyCollection().stream()
                    .anyMatch(known -> known.isCreationEnabled()
                            && known.isPhysicalConstraint()
                            && known.getColumns().equals(columns));
        }
    }

    private MappedTable table(Table table) {
        Identifier schema = table.getSchemaIdentifier() == null ? usualSchema : table.getSchemaIdentifier();
        return new MappedTable(schema == null ? null : schema.getText(), table.getName());
    }

    private static List<String> columns(Value value) {
        return value.getColumns().stream().map(Column::getName).toList();
    }
}
