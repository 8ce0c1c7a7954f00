package dev.vacancy.internal.restoring;

import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.trail.EntryReader;
import dev.vacancy.internal.trail.ReadableImage;
import dev.vacancy.internal.trail.SqlTrailStore;
import dev.vacancy.internal.trail.TrailStore;
import dev.vacancy.internal.trail.TrailTables;
import java.util.function.Function;

/** A trail in tables, each time read in a transaction. */
record SqlTrailAccess(DatabaseCatalog catalog, TrailTables tables, Transactions transactions) implements TrailAccess {
    @Override
    public <T> T reading(Function<TrailStore, T> work) {
        EntryReader reader = new EntryReader(tables);
        ReadableImage readable = new ReadableImage(catalog);
        return transactions.reading(connection -> work.apply(new SqlTrailStore(reader, readable, connection)));
    }
}
