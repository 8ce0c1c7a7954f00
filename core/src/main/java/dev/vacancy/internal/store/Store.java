package dev.vacancy.internal.store;

import dev.vacancy.DatabaseException;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Limits;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.HoldsInForce;

/**
 * A database as one transaction finds it: where planning comes in. There is one implementation for each kind of database.
 *
 * <p>Of one thread, and as long as its transaction.
 *
 * @since 0.1
 */
public interface Store {
    /**
     * Opens the records.
     *
     * @param catalog what the database holds
     * @param limits how long is waited for locks
     * @param purpose what the records are read for
     * @return the records
     */
    RecordStore records(DatabaseCatalog catalog, Limits limits, Purpose purpose);

    /**
     * Tells which database it is.
     *
     * @return a text that no other database has
     * @throws InvalidRequestException when it isn't the one that the catalog was read from
     * @throws DatabaseException when it doesn't answer
     */
    String database();

    /**
     * Reads what must not go.
     *
     * @param recording the trail that holds are in
     * @return the holds that nobody has lifted
     * @throws DatabaseException when the trail can't be read
     */
    HoldsInForce holds(Rules.Recording recording);
}
