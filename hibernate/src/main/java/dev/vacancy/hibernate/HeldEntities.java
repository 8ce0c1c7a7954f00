package dev.vacancy.hibernate;

import dev.vacancy.hibernate.MappedRecords.Fate;
import dev.vacancy.internal.engine.ChangedRecords;
import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.hibernate.collection.spi.PersistentCollection;
import org.hibernate.engine.spi.CollectionEntry;
import org.hibernate.engine.spi.EntityHolder;
import org.hibernate.engine.spi.EntityKey;
import org.hibernate.engine.spi.PersistenceContext;
import org.hibernate.engine.spi.SessionImplementor;

/**
 * The entities that a session holds. Those that are gone are detached and taken out of loaded collections; those that have another
 * content are read again, so that whoever has one in hand goes on with what is true.
 */
final class HeldEntities {
    private final SessionImplementor session;
    private final MappedRecords records;

    HeldEntities(SessionImplementor session, MappedRecords records) {
        this.session = session;
        this.records = records;
    }

    void forget(ChangedRecords change) {
        PersistenceContext held = session.getPersistenceContext();
        Set<Object> gone = Collections.newSetFromMap(new IdentityHashMap<>());
        List<Object> other = new ArrayList<>();
        for (EntityHolder holder : all(session)) {
            switch (fate(holder, change)) {
                case GONE ->
                    Stream.of(holder.getEntity(), holder.getProxy())
                            .filter(Objects::nonNull)
                            .forEach(gone::add);
                case CHANGED -> Optional.ofNullable(holder.getEntity()).ifPresent(other::add);
                case SAME, UNKNOWN -> {}
            }
        }
        List<Object> owners = owners(held, gone, change);
        gone.stream().filter(session::contains).forEach(session::detach);
        Stream.concat(other.stream(), owners.stream()).filter(session::contains).forEach(session::refresh);
    }

    /** All entities and references that a session holds. */
    static List<EntityHolder> all(SessionImplementor session) {
        Map<EntityKey, EntityHolder> byKey = session.getPersistenceContext().getEntityHoldersByKey();
        return byKey == null ? List.of() : List.copyOf(byKey.values());
    }

    /** What nobody knows of is looked for; a part of a record that isn't there any more counts as gone. */
    private Fate fate(EntityHolder holder, ChangedRecords change) {
        Object id = holder.getEntityKey().getIdentifier();
        Fate fate = records.fate(holder.getDescriptor(), id, change, session);
        if (fate != Fate.UNKNOWN) {
            return fate;
        }
        return holder.getDescriptor().getDatabaseSnapshot(id, session) == null ? Fate.GONE : Fate.CHANGED;
    }

    /** Takes what is gone out of loaded collections, and returns the owners of those that have to be read again. */
    private List<Object> owners(PersistenceContext held, Set<Object> gone, ChangedRecords change) {
        List<Object> owners = new ArrayList<>();
        if (held.getCollectionEntries() == null) {
            return owners;
        }
        for (Map.Entry<PersistentCollection<?>, CollectionEntry> loaded :
                List.copyOf(held.getCollectionEntries().entrySet())) {
            PersistentCollection<?> collection = loaded.getKey();
            CollectionEntry entry = loaded.getValue();
            if (!collection.wasInitialized() || entry.getLoadedPersister() == null) {
                continue;
            }
            boolean smaller = removeAll(collection, gone);
            if (smaller) {
                entry.postInitialize(collection, session);
                collection.clearDirty();
            }
            boolean movedUp = smaller
                    && collection instanceof List
                    && entry.getLoadedPersister().hasIndex();
            if (movedUp || records.isOutdated(entry.getRole(), change)) {
                owners.add(collection.getOwner());
            }
        }
        return owners;
    }

    private static boolean removeAll(PersistentCollection<?> collection, Set<Object> gone) {
        if (collection instanceof Map<?, ?> map) {
            return removeAll(map.values().iterator(), gone);
        }
        return collection instanceof Iterable<?> elements && removeAll(elements.iterator(), gone);
    }

    private static boolean removeAll(Iterator<?> elements, Set<Object> gone) {
        boolean removed = false;
        while (elements.hasNext()) {
            if (gone.contains(elements.next())) {
                elements.remove();
                removed = true;
            }
        }
        return removed;
    }
}
