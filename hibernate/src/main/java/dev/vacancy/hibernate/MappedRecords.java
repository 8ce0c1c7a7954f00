package dev.vacancy.hibernate;

import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.KeyGiven;
import dev.vacancy.catalog.Table;
import dev.vacancy.hibernate.Mapping.KeyedTable;
import dev.vacancy.internal.catalog.GivenKeys;
import dev.vacancy.internal.engine.ChangedRecords;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.hibernate.engine.spi.SharedSessionContractImplementor;
import org.hibernate.persister.entity.EntityPersister;

/** Which records of the database entities are. */
final class MappedRecords {
    private final Mapping mapping;
    private final Catalog catalog;
    private final Map<String, Map<KeyedTable, Table>> known = new ConcurrentHashMap<>();

    MappedRecords(Mapping mapping, Catalog catalog) {
        this.mapping = mapping;
        this.catalog = catalog;
    }

    boolean isOf(Catalog other) {
        return catalog == other;
    }

    /** What has become of an entity. */
    enum Fate {
        /** It is as it was. */
        SAME,
        /** It isn't there any more, or only marked in a way that the mapper knows. */
        GONE,
        /** It has another content. */
        CHANGED,
        /** Nobody knows. */
        UNKNOWN
    }

    /** The tables that hold records of an entity, of those that there are, its own first. */
    Map<KeyedTable, Table> keyed(EntityPersister entity) {
        return known.computeIfAbsent(entity.getEntityName(), this::find);
    }

    private Map<KeyedTable, Table> find(String entity) {
        Map<KeyedTable, Table> tables = new LinkedHashMap<>();
        for (KeyedTable keyed : mapping.entities().getOrDefault(entity, List.of())) {
            keyed.table().in(catalog).ifPresent(table -> tables.put(keyed, table));
        }
        return tables;
    }

    /** The same tables by themselves. */
    Collection<Table> tables(EntityPersister entity) {
        return keyed(entity).values();
    }

    /** What a change has made of an entity. */
    Fate fate(EntityPersister entity, Object id, ChangedRecords change, SharedSessionContractImplementor session) {
        Fate fate = Fate.SAME;
        for (Map.Entry<KeyedTable, Table> keyed : keyed(entity).entrySet()) {
            Table table = keyed.getValue();
            if (change.tables().contains(table.name())) {
                Fate here = fate(table, key(keyed.getKey(), table, entity, id, session), change);
                if (here == Fate.GONE) {
                    return here;
                }
                fate = here == Fate.SAME ? fate : here;
            }
        }
        return fate;
    }

    private Fate fate(Table table, Optional<Key> key, ChangedRecords change) {
        if (key.isEmpty() || !change.gone().containsKey(table.name())) {
            return Fate.UNKNOWN;
        }
        if (change.gone().get(table.name()).contains(key.get())) {
            // What is marked without the mapper's knowledge is still there for it.
            return change.marked().contains(table.name()) && !isSoft(table) ? Fate.CHANGED : Fate.GONE;
        }
        return change.changed().get(table.name()).contains(key.get()) ? Fate.CHANGED : Fate.SAME;
    }

    private boolean isSoft(Table table) {
        return mapping.softTables().stream()
                .anyMatch(soft -> soft.table().in(catalog).filter(table::equals).isPresent());
    }

    /** Whether a loaded collection may hold others than before, beside those that are gone. */
    boolean isOutdated(String role, ChangedRecords change) {
        return Optional.ofNullable(mapping.collections().get(role))
                .flatMap(table -> table.in(catalog))
                .map(Table::name)
                .filter(change.tables()::contains)
                .filter(table -> !change.changed().containsKey(table)
                        || !change.changed().get(table).isEmpty())
                .isPresent();
    }

    /** The key of an entity's record in one of its tables; empty if its values don't make one. */
    private static Optional<Key> key(
            KeyedTable keyed,
            Table table,
            EntityPersister entity,
            Object id,
            SharedSessionContractImplementor session) {
        try {
            return values(keyed, table, entity, id, session)
                    .map(values -> GivenKeys.resolve(new KeyGiven.ByName(values), table));
        } catch (InvalidRequestException otherwise) {
            return Optional.empty();
        }
    }

    /** What an entity's id is in the columns of one of its tables; empty if these aren't there. */
    static Optional<Map<String, Object>> values(
            KeyedTable keyed,
            Table table,
            EntityPersister entity,
            Object id,
            SharedSessionContractImplementor session) {
        List<Object> values = new ArrayList<>();
        entity.getIdentifierMapping().forEachJdbcValue(id, (index, value, type) -> values.add(value), session);
        return MappedTable.columns(table, keyed.key())
                .filter(columns -> columns.size() == values.size())
                .map(columns -> {
                    Map<String, Object> byName = new LinkedHashMap<>();
                    for (int place = 0; place < values.size(); place++) {
                        byName.put(columns.get(place).name(), values.get(place));
                    }
                    return byName;
                });
    }
}
