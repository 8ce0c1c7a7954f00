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
 * @param mostPerTransaction how many documents a run can change in a transaction; 0 if there are none
 */
record DocumentStore(DocumentQuery query, String database, long mostPerTransaction) implements Store {
    @Override
    public RecordStore records(DatabaseCatalog catalog, Limits limits, Purpose purpose) {
        return new DocumentRecords(query, purpose, DocumentRecords.traits(mostPerTransaction));
    }

    @Override
    public HoldsInForce holds(Rules.Recording recording) {
        return new DocumentTrail(query.database(), recording.trail()).holdsInForce();
    }
}
