package dev.vacancy.internal.store;

import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import java.sql.SQLException;
import java.util.Optional;

/**
 * A lock that was not granted in time. It never leaves the library: whoever owns the transaction ends it, finds out which
 * of the records are held, and tells that.
 *
 * @since 0.1
 */
public final class LockNotGranted extends RuntimeException {
    private static final long serialVersionUID = 1L;

    private final transient Table table;
    private final transient Optional<Condition> wanted;

    /**
     * Says what was to be locked.
     *
     * @param table the table
     * @param wanted picks the records; empty for the table as a whole
     * @param cause what the driver said
     */
    public LockNotGranted(Table table, Optional<Condition> wanted, SQLException cause) {
        super(cause);
        this.table = table;
        this.wanted = wanted;
    }

    /**
     * Returns the table.
     *
     * @return the table
     */
    public Table table() {
        return table;
    }

    /**
     * Returns which of its records were to be locked.
     *
     * @return the condition, empty for the table as a whole
     */
    public Optional<Condition> wanted() {
        return wanted;
    }

    @Override
    public synchronized SQLException getCause() {
        return (SQLException) super.getCause();
    }
}
