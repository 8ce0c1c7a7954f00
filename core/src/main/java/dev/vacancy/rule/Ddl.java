package dev.vacancy.rule;

import static java.util.Objects.requireNonNull;

import dev.vacancy.DatabaseException;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.TransactionSource;
import dev.vacancy.internal.engine.SchemaChanges;
import java.util.List;
import java.util.Set;
import javax.sql.DataSource;

/**
 * What a database still needs for the rules: the tables of the audit trail, columns that mark and stamp, indexes, views of the
 * active records.
 *
 * <pre>{@code
 * Ddl ddl = Ddl.of(dataSource, rules);
 * ddl.statements().forEach(System.out::println);
 * ddl.apply();
 * }</pre>
 *
 * @since 0.1
 */
public final class Ddl {
    /** What is kept in tables of ours, beside the audit trail. */
    public enum Part {
        /** Bulk runs and their records. */
        BULK_RUNS,
        /** Which signed approvals were redeemed, and what came of them. */
        APPROVALS,
        /** Scheduled deletions. */
        SCHEDULE,
        /** Columns and tables that have retired. */
        RETIREMENTS
    }

    private final SchemaChanges changes;

    private Ddl(SchemaChanges changes) {
        this.changes = changes;
    }

    /**
     * Works out what is missing, of tables of ours that an earlier version has made as well. Changes nothing.
     *
     * @param dataSource where connections come from
     * @param rules the rules that it is for
     * @param parts what else is to be kept in the database
     * @return the statements, in their order
     * @throws DatabaseException when the database can't be read
     * @throws RulesException when the rules ask for more than columns that are missing
     */
    public static Ddl of(DataSource dataSource, RuleBook rules, Part... parts) {
        requireNonNull(dataSource, "dataSource");
        requireNonNull(rules, "rules");
        return new Ddl(SchemaChanges.of(dataSource, rules, Set.of(parts)));
    }

    /**
     * Works out what is missing of some tables of ours, whatever the rules are. Changes nothing.
     *
     * @param dataSource where connections come from
     * @param parts what is to be kept in the database
     * @return the statements, in their order
     * @throws DatabaseException when the database can't be read
     */
    public static Ddl of(DataSource dataSource, Part... parts) {
        requireNonNull(dataSource, "dataSource");
        return new Ddl(SchemaChanges.of(dataSource, Set.of(parts)));
    }

    /**
     * Does the same where somebody else manages transactions: inside an open one the statements are part of it, where the database can do
     * that.
     *
     * @param dataSource where connections come from when no transaction is open
     * @param rules the rules that it is for
     * @param source tells of the transaction that is open on the thread
     * @param parts what else is to be kept in the database
     * @return the statements, in their order
     * @throws DatabaseException when the database can't be read
     * @throws RulesException when the rules ask for more than columns that are missing
     */
    public static Ddl of(DataSource dataSource, RuleBook rules, TransactionSource source, Part... parts) {
        requireNonNull(dataSource, "dataSource");
        requireNonNull(rules, "rules");
        requireNonNull(source, "source");
        return new Ddl(SchemaChanges.of(dataSource, rules, source, Set.of(parts)));
    }

    /**
     * Returns the statements.
     *
     * @return SQL for the database at hand, in the order in which it has to be run; empty if nothing is missing
     */
    public List<String> statements() {
        return changes.statements();
    }

    /**
     * Tells whether anything is to be done.
     *
     * @return true if statements are missing, or what an earlier version has written is still to be taken over
     */
    public boolean isNeeded() {
        return changes.isNeeded();
    }

    /**
     * Returns what no statement can do.
     *
     * @return sentences for people
     */
    public List<String> remarks() {
        return changes.remarks();
    }

    /**
     * Runs the statements. Some databases commit each of them by itself.
     *
     * @return how many there were
     * @throws DatabaseException when the database refuses one; where it commits each, those before it are done
     * @throws InvalidRequestException inside a transaction of the application's that the statements would commit
     */
    public int apply() {
        return changes.apply();
    }
}
