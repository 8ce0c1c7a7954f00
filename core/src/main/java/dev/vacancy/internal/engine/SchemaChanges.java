package dev.vacancy.internal.engine;

import dev.vacancy.DatabaseException;
import dev.vacancy.Limits;
import dev.vacancy.TransactionSource;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.internal.rules.DerivedRules;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.running.ManagedTransactions;
import dev.vacancy.internal.running.OwnTransactions;
import dev.vacancy.internal.running.Preparation;
import dev.vacancy.internal.running.Transactions;
import dev.vacancy.internal.schema.CatalogReader;
import dev.vacancy.internal.tables.OwnTable;
import dev.vacancy.internal.tables.OwnTables;
import dev.vacancy.internal.trail.TrailTables;
import dev.vacancy.internal.trail.TrailUpgrade;
import dev.vacancy.rule.Ddl.Part;
import dev.vacancy.rule.RuleBook;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Clock;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import javax.sql.DataSource;

/**
 * What a database still needs, and how it gets it.
 *
 * @param transactions whose transaction the statements are run in
 * @param statements SQL in the order in which it has to be run
 * @param remarks what no statement can do
 * @param upgrade takes over what an earlier version of the trail holds
 */
public record SchemaChanges(
        Transactions transactions,
        Dialect dialect,
        List<String> statements,
        List<String> remarks,
        Optional<TrailUpgrade> upgrade) {
    /** Keeps its own copies of the lists. */
    public SchemaChanges {
        statements = List.copyOf(statements);
        remarks = List.copyOf(remarks);
    }

    /** Works out what the rules and some tables of ours need. */
    public static SchemaChanges of(DataSource dataSource, RuleBook rules, Set<Part> parts) {
        OwnTransactions own = OwnTransactions.over(dataSource);
        return of(own, own.dialect(), rules, parts);
    }

    /** Works out what some tables of ours need, whatever the rules are. */
    public static SchemaChanges of(DataSource dataSource, Set<Part> parts) {
        OwnTransactions own = OwnTransactions.over(dataSource);
        List<OwnTable> tables = parts.stream()
                .sorted()
                .flatMap(part -> tables(part, own.dialect()).stream())
                .toList();
        List<String> statements = new Preparation(tables, own.dialect(), own).missing();
        return new SchemaChanges(own, own.dialect(), statements, List.of(), Optional.empty());
    }

    /** Does the same where somebody else manages transactions. */
    public static SchemaChanges of(DataSource dataSource, RuleBook rules, TransactionSource source, Set<Part> parts) {
        OwnTransactions own = OwnTransactions.over(dataSource, true);
        Transactions managed = new ManagedTransactions(
                ManagedSource.by(source), own, Limits.defaults().lockWait());
        return of(managed, own.dialect(), rules, parts);
    }

    private static SchemaChanges of(Transactions transactions, Dialect dialect, RuleBook given, Set<Part> parts) {
        WrittenRules written = WrittenRules.of(given);
        return transactions.reading(connection -> {
            DatabaseCatalog catalog =
                    CatalogReader.read(connection, dialect, written.schemas(), OwnTables.namesFor(written.trail()));
            Clock clock = Clock.system(ZoneId.systemDefault());
            WrittenRules rules = DerivedRules.of(written, catalog, clock).book();
            MissingParts missing = new MissingParts(dialect, catalog, connection);
            missing.columns(rules);
            if (rules.trail().isPresent()) {
                missing.trail(new TrailTables(rules.trail().get(), dialect));
            }
            if (!rules.followUps().isEmpty() && rules.trail().isPresent()) {
                missing.followUps(rules, new TrailTables(rules.trail().get(), dialect));
            }
            missing.others(parts);
            if (missing.isWhole()) {
                missing.softTables(Rules.of(rules, catalog, clock));
            } else {
                missing.remarks().add("Once these columns are there, ask again for the views and indexes on them.");
            }
            return new SchemaChanges(transactions, dialect, missing.statements(), missing.remarks(), missing.upgrade());
        });
    }

    static List<OwnTable> tables(Part part, Dialect dialect) {
        return switch (part) {
            case BULK_RUNS -> OwnTables.ofBulkRuns(dialect);
            case APPROVALS -> List.of(OwnTables.REDEEMED);
            case SCHEDULE -> List.of(OwnTables.SCHEDULED);
            case RETIREMENTS -> List.of(OwnTables.RETIREMENT);
        };
    }

    /** Whether anything is to be done. */
    public boolean isNeeded() {
        return !statements.isEmpty() || upgrade.isPresent();
    }

    /** Runs the statements; some databases commit each of them by itself. */
    public int apply() {
        if (isNeeded()) {
            Preparation.requireNobodyElses(dialect, transactions);
        }
        return transactions.writing(connection -> {
            try (Statement statement = connection.createStatement()) {
                for (String sql : statements) {
                    statement.execute(sql);
                }
                if (upgrade.isPresent()) {
                    upgrade.get().copy(connection, Clock.systemUTC());
                    for (String sql : upgrade.get().removal()) {
                        statement.execute(sql);
                    }
                }
                return statements.size();
            } catch (SQLException refused) {
                throw new DatabaseException(
                        "make what the rules need", "Run the statements by hand as the owner of the tables.", refused);
            }
        });
    }
}
