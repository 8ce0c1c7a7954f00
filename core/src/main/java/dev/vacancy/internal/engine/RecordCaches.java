package dev.vacancy.internal.engine;

import dev.vacancy.Reporting;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * All that the application holds of records in memory.
 *
 * @param all each of them
 */
record RecordCaches(List<RecordCache> all) {
    private static final Logger LOG = LoggerFactory.getLogger(RecordCaches.class);

    static final RecordCaches NONE = new RecordCaches(List.of());

    RecordCaches {
        all = List.copyOf(all);
    }

    RecordCaches and(RecordCache cache) {
        List<RecordCache> more = new ArrayList<>(all);
        more.add(cache);
        return new RecordCaches(more);
    }

    void flush() {
        all.forEach(RecordCache::flush);
    }

    /** The names of tables whose keys have to be known. */
    Set<String> held(DatabaseCatalog catalog) {
        Set<String> names = new LinkedHashSet<>();
        all.forEach(cache -> cache.held(catalog).stream().map(Table::name).forEach(names::add));
        return names;
    }

    /** The same reporting, with keys of these tables beside those that the caller wants. */
    static Reporting reporting(Reporting given, Set<String> held) {
        return held.isEmpty() ? given : given.keysOf(held.toArray(String[]::new));
    }

    /** Has them forget what is changed in the application's transaction. */
    void forget(ChangedRecords changed, DatabaseCatalog catalog) {
        all.forEach(cache -> {
            cache.forget(changed, catalog);
            cache.forgetShared(changed, catalog);
        });
    }

    /** Has them forget what is committed; one that fails is told in the log, as nothing can be taken back. */
    void forgetCommitted(ChangedRecords changed, DatabaseCatalog catalog, boolean here) {
        for (RecordCache cache : all) {
            try {
                if (here) {
                    cache.forget(changed, catalog);
                }
                cache.forgetShared(changed, catalog);
            } catch (RuntimeException failure) {
                LOG.warn("A cache failed when it was to forget what has been committed", failure);
            }
        }
    }
}
