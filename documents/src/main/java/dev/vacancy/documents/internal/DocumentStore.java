package dev.vacancy.documents.internal;

import dev.vacancy.Limits;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.Purpose;
import dev.vacancy.internal.store.RecordStore;
import dev.vacancy.internal.store.Store;
import dev.vacancy.internal.trail.HoldsInForce;

/**
 * A database of documents, as it is now.
 *
 * @param query finds documents
 * @param database which database it is
 */
record DocumentStore(DocumentQuery query, String database) implements Store {
    @Override
    public RecordStore records(DatabaseCatalog catalog, Limits limits, Purpose purpose) {
        return new DocumentRecords(query, purpose);
    }

    @Override
    public HoldsInForce holds(Rules.Recording recording) {
        return new DocumentTrail(query.database(), recording.trail()).holdsInForce();
    }
}
