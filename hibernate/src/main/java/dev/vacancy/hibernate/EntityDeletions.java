package dev.vacancy.hibernate;

import static java.util.Objects.requireNonNull;

import dev.vacancy.Approval;
import dev.vacancy.By;
import dev.vacancy.ColumnCriteria;
import dev.vacancy.Criteria;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Outcome;
import dev.vacancy.Permissions;
import dev.vacancy.Plan;
import dev.vacancy.Reporting;
import dev.vacancy.Selection;
import dev.vacancy.Vacancy;
import dev.vacancy.catalog.Table;
import dev.vacancy.hibernate.Mapping.KeyedTable;
import dev.vacancy.history.History;
import dev.vacancy.history.HistoryQuery;
import dev.vacancy.history.RestoreOutcome;
import dev.vacancy.history.TrailEntry;
import dev.vacancy.internal.trail.Action;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.stream.Stream;
import org.hibernate.Hibernate;
import org.hibernate.engine.spi.SessionFactoryImplementor;
import org.hibernate.engine.spi.SessionImplementor;
import org.hibernate.metamodel.mapping.JdbcMapping;
import org.hibernate.metamodel.mapping.ModelPart;
import org.hibernate.metamodel.mapping.ModelPartContainer;
import org.hibernate.metamodel.mapping.SelectableMapping;
import org.hibernate.persister.entity.EntityPersister;
import org.jspecify.annotations.Nullable;

/** Deletions of entities, in terms of their records. */
final class EntityDeletions<E, ID> implements Deletions<E, ID> {
    private final SessionFactoryImplementor factory;
    private final Mapping mapping;
    private final Vacancy vacancy;
    private final Class<E> type;
    private final EntityPersister entity;
    private final MappedRecords records;

    EntityDeletions(SessionFactoryImplementor factory, Mapping mapping, Vacancy vacancy, Class<E> type) {
        this.factory = factory;
        this.mapping = mapping;
        this.vacancy = vacancy;
        this.type = type;
        this.records = new MappedRecords(mapping, vacancy.catalog());
        this.entity = descriptor(type);
        table();
    }

    @Override
    public Deletions<E, ID> actingFor(By by, Permissions permissions) {
        return new EntityDeletions<>(factory, mapping, vacancy.actingFor(by, permissions), type);
    }

    private EntityPersister descriptor(Class<?> type) {
        EntityPersister found = factory.getMappingMetamodel().findEntityDescriptor(type);
        if (found == null) {
            throw new InvalidRequestException(
                    FailureCode.USAGE, type.getName() + " isn't an entity.", "Give the class of an entity.");
        }
        return found;
    }

    /** The entity's own table: of a subclass with a table of its own, that one. */
    private Map.Entry<KeyedTable, Table> table() {
        return records.keyed(entity).entrySet().stream()
                .findFirst()
                .orElseThrow(() -> new InvalidRequestException(
                        FailureCode.UNKNOWN_TABLE,
                        "The table of " + entity.getEntityName() + " isn't there.",
                        "Add the table, correct the mapping, or name its schema in the rules."));
    }

    private Selection.From from() {
        return Selection.of(table().getValue().name());
    }

    @Override
    public Selection selectId(ID id) {
        return selectIds(List.of(requireNonNull(id, "id")));
    }

    @Override
    public Selection selectIds(Collection<? extends ID> ids) {
        List<Map<String, Object>> keys = new ArrayList<>();
        try (SessionImplementor session = factory.openTemporarySession()) {
            ids.forEach(id -> keys.add(key(id, session)));
        }
        return from().keys(keys);
    }

    private Map<String, Object> key(ID id, SessionImplementor session) {
        Class<?> type = IdReader.type(entity);
        if (!type.isInstance(id)) {
            throw new InvalidRequestException(
                    FailureCode.KEY_SHAPE,
                    "The id of " + entity.getEntityName() + " is " + type.getSimpleName() + ", not "
                            + id.getClass().getSimpleName() + ".",
                    "Give an id of that type.");
        }
        Map.Entry<KeyedTable, Table> table = table();
        return MappedRecords.values(table.getKey(), table.getValue(), entity, id, session)
                .orElseThrow(() -> new InvalidRequestException(
                        FailureCode.KEY_SHAPE,
                        "The columns of the id of " + entity.getEntityName() + " aren't in "
                                + table.getValue().name() + ".",
                        "Correct the mapping."));
    }

    @Override
    public Selection selectEntity(E held) {
        return selectId(id(held));
    }

    @SuppressWarnings("unchecked") // an entity's id is of the type that its class says
    private ID id(E held) {
        Object id = factory.getPersistenceUnitUtil().getIdentifier(requireNonNull(held, "entity"));
        if (id == null) {
            throw new InvalidRequestException(
                    FailureCode.KEY_SHAPE,
                    "This " + entity.getEntityName() + " has no id yet.",
                    "Persist it first, or just let it go.");
        }
        return (ID) id;
    }

    @Override
    public Selection select(Criteria criteria) {
        return from().where(criteria);
    }

    @Override
    public ColumnCriteria<Object> attribute(String name) {
        ModelPart part = entity;
        for (String step : name.split("\\.", -1)) {
            part = part instanceof ModelPartContainer container ? container.findSubPart(step, entity) : null;
        }
        List<SelectableMapping> columns = new ArrayList<>();
        if (part != null) {
            part.forEachSelectable((index, column) -> columns.add(column));
        }
        if (columns.size() != 1 || columns.get(0).isFormula()) {
            throw new InvalidRequestException(
                    FailureCode.UNKNOWN_COLUMN,
                    entity.getEntityName() + " has no attribute '" + name + "' in one column.",
                    "Name another attribute, or give criteria on columns.");
        }
        SelectableMapping column = columns.get(0);
        return Criteria.column(path(column)).convertedBy(value -> stored(value, column.getJdbcMapping()));
    }

    /** What a column has for a value of the attribute: the id of an entity, what a converter makes of it, the number of a constant. */
    @SuppressWarnings("EnumOrdinal") // that is what the mapping says
    private @Nullable Object stored(Object given, JdbcMapping mapping) {
        Object value = factory.getMappingMetamodel().findEntityDescriptor(Hibernate.getClass(given)) == null
                ? given
                : factory.getPersistenceUnitUtil().getIdentifier(given);
        if (!mapping.getMappedJavaType().isInstance(value)) {
            return value;
        }
        Object relational = mapping.convertToRelationalValue(value);
        return relational instanceof Enum<?> constant && mapping.getJdbcType().isInteger()
                ? (Object) constant.ordinal()
                : relational;
    }

    /** A column of the entity's own table, or of one that its key leads to. */
    private String path(SelectableMapping selectable) {
        String column = MappedTable.bare(selectable.getSelectionExpression());
        String home = MappedTable.bare(selectable.getContainingTableExpression());
        home = home.substring(home.lastIndexOf('.') + 1);
        String own = table().getValue().storedName();
        return own.equalsIgnoreCase(home) ? column : home + "." + column;
    }

    @Override
    public Plan plan(Selection selection, By by) {
        return vacancy.plan(selection, by);
    }

    @Override
    public EntityOutcome<ID> run(Approval approval) {
        return new Done(vacancy.run(approval, reporting()));
    }

    @Override
    public EntityOutcome<ID> delete(Selection selection, By by) {
        return new Done(vacancy.delete(selection, by, reporting()));
    }

    /** The keys of all entities, since nobody knows yet of which classes somebody asks. */
    private Reporting reporting() {
        List<String> tables = new ArrayList<>();
        factory.getMappingMetamodel()
                .forEachEntityDescriptor(mapped -> records.tables(mapped).stream()
                        .limit(1)
                        .map(Table::name)
                        .forEach(tables::add));
        return Reporting.none().keysOf(tables.toArray(String[]::new));
    }

    @Override
    public RestoreOutcome restore(UUID run, By by) {
        return vacancy.history().restore(Approval.of(vacancy.history().planRestore(run, by)));
    }

    @Override
    public RestoreOutcome restoreId(ID id, By by) {
        String table = table().getValue().name();
        History history = vacancy.history();
        String key = history.keyText(table, selectId(id).keys().get(0));
        UUID run = history.entries(HistoryQuery.all().ofRecord(table, key)).stream()
                .filter(entry -> Action.of(entry.action()).removes())
                .findFirst() // the newest
                .map(TrailEntry::run)
                .orElseThrow(() -> new InvalidRequestException(
                        FailureCode.UNKNOWN_RUN,
                        "Nothing is recorded of a deletion of " + entity.getEntityName() + " " + id + ".",
                        "Check the id; what was deleted without an audit trail can't be brought back."));
        return history.restore(Approval.of(history.planRestore(run, table, key, by)));
    }

    @Override
    public RestoreOutcome restoreEntity(E held, By by) {
        return restoreId(id(held), by);
    }

    @Override
    public String toString() {
        return "deletions of " + entity.getEntityName();
    }

    /** An outcome whose keys are read as ids when somebody asks for them. */
    private final class Done implements EntityOutcome<ID> {
        private final Outcome outcome;

        Done(Outcome outcome) {
            this.outcome = outcome;
        }

        @Override
        public Outcome outcome() {
            return outcome;
        }

        @Override
        @SuppressWarnings("unchecked") // an entity's id is of the type that its class says
        public List<ID> ids() {
            return (List<ID>) ids(entity);
        }

        @Override
        public List<?> ids(Class<?> type) {
            return ids(descriptor(requireNonNull(type, "entity")));
        }

        private List<Object> ids(EntityPersister mapped) {
            return records.keyed(mapped).entrySet().stream()
                    .limit(1)
                    .flatMap(table -> ids(mapped, table.getKey(), table.getValue()))
                    .toList();
        }

        private Stream<Object> ids(EntityPersister mapped, KeyedTable keyed, Table table) {
            IdReader reader = new IdReader(factory, mapped, keyed.key(), table);
            return outcome.keys().getOrDefault(table.name(), List.of()).stream()
                    .map(key -> reader.read(key)
                            .orElseThrow(() -> new InvalidRequestException(
                                    FailureCode.USAGE,
                                    "The id of " + mapped.getEntityName() + " can't be made of the key " + key.text()
                                            + ".",
                                    "Take the keys from outcome().")));
        }

        @Override
        public String toString() {
            return outcome.toString();
        }
    }
}
