package dev.vacancy.internal.store;

import dev.vacancy.DatabaseException;
import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.Limits;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.dialect.DatabaseIdentity;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.trail.HoldsInForce;
import dev.vacancy.internal.trail.TrailTables;
import java.sql.Connection;
import java.sql.SQLException;

/**
 * A relational database.
 *
 * @param connection a connection in a transaction
 * @param dialect the dialect of the database
 * @param schema the schema that statements meant which named none, where the catalog was read
 * @since 0.1
 */
public record SqlStore(Connection connection, Dialect dialect, String schema) implements Store {
    @Override
    public RecordStore records(DatabaseCatalog catalog, Limits limits, Purpose purpose) {
        return new SqlRecordStore(connection, dialect, catalog, limits, purpose);
    }

    @Override
    public String database() {
        try {
            DatabaseIdentity here = dialect.whereabouts(connection);
            if (!here.schema().equals(schema)) {
                throw new InvalidRequestException(
                        FailureCode.OTHER_SCHEMA,
                        "The connection's schema is '" + here.schema() + "', and the catalog was read from '" + schema
                                + "'.",
                        "Nothing was changed; use a connection to that schema, or a Vacancy that was made over this one.");
            }
            return here.database();
        } catch (SQLException failure) {
            throw new DatabaseException("tell which database it is", "Check the connection.", failure);
        }
    }

    @Override
    public HoldsInForce holds(Rules.Recording recording) {
        try {
            return new TrailTables(recording.trail(), dialect).holdsInForce(connection);
        } catch (SQLException failure) {
            throw new DatabaseException("read the audit trail", "Nothing was changed.", failure);
        }
    }
}
