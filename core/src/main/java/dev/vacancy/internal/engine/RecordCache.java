package dev.vacancy.internal.engine;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Table;
import java.util.Collection;

/**
 * What an application holds of records in memory: the persistence context of an object mapper, and caches behind it. It writes what it
 * holds back before anything is read in the same transaction, and forgets what isn't true any more.
 */
public interface RecordCache {
    /** Writes what it holds back to the transaction that is open on this thread. */
    void flush();

    /**
     * Tells of which tables it holds records now, so that it has to know their keys when they go, are marked or changed.
     *
     * @param catalog the tables that there are
     * @return some of them
     */
    Collection<Table> held(Catalog catalog);

    /**
     * Forgets records that this thread holds, which in its transaction are gone or changed.
     *
     * @param changed which
     * @param catalog the tables that there are
     */
    void forget(ChangedRecords changed, Catalog catalog);

    /**
     * Forgets records that all threads share. It is called at once, and again when the transaction is committed, since others read what was
     * there until then.
     *
     * @param changed which
     * @param catalog the tables that there are
     */
    void forgetShared(ChangedRecords changed, Catalog catalog);
}
