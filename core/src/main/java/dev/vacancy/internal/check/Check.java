package dev.vacancy.internal.check;

import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.Access;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.internal.rules.DerivedRules;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.schema.CatalogReader;
import dev.vacancy.internal.tables.OwnTables;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.RuleBook;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;

/**
 * Looks for what is wrong or risky in a schema and in the rules for it.
 *
 * @since 0.1
 */
public final class Check {
    private Check() {}

    /**
     * Looks at a database. Of columns that may be links nobody declared it reads up to a thousand values each.
     *
     * @param connection a connection in a transaction
     * @param dialect the dialect of its database
     * @param given the rules
     * @param clock tells the moment that relative times are told from
     * @return what was found, the worst first; empty if all is well
     * @throws SQLException when the database doesn't answer
     */
    public static List<Finding> findings(Connection connection, Dialect dialect, RuleBook given, Clock clock)
            throws SQLException {
        WrittenRules book = WrittenRules.of(given);
        DatabaseCatalog declared =
                CatalogReader.read(connection, dialect, book.schemas(), OwnTables.namesFor(book.trail()));
        DerivedRules derived = DerivedRules.of(given, declared, clock);
        List<Finding> findings = new ArrayList<>();
        Rules.Reading rules = Rules.read(derived.book(), declared, clock);
        rules.problems()
                .forEach(problem -> findings.add(
                        new Finding(Finding.Kind.RULE, problem.where(), problem.what(), problem.remedy())));
        DatabaseCatalog catalog = rules.catalog();
        findings.addAll(derived.findings());
        findings.addAll(blindSpots(catalog));
        findings.addAll(ServerCheck.elsewhere(catalog, book));
        findings.addAll(new SchemaCheck(catalog, dialect).findings());
        if (rules.problems().isEmpty()) {
            findings.addAll(new ServerCheck(Rules.of(derived.book(), declared, clock), dialect).findings());
        }
        findings.addAll(new TrailCheck(catalog, derived.book()).findings());
        findings.addAll(new LinkSuggestions(catalog, dialect, connection).findings());
        return findings;
    }

    /**
     * Says that a data source hands out connections on which links are not enforced.
     *
     * @param dialect the dialect of the database
     * @return the finding
     */
    public static Finding notEnforced(Dialect dialect) {
        return new Finding(
                Finding.Kind.NOT_ENFORCED,
                "connections to " + dialect.name(),
                "foreign keys are not enforced on them; Vacancy switches that on for its own work, but whatever else"
                        + " writes can leave orphans",
                "switch it on wherever connections are made");
    }

    /**
     * Tells which tables the database's user can't see or use as a whole.
     *
     * @param catalog the catalog
     * @return a finding for each, none if there are no limits
     */
    public static List<Finding> blindSpots(DatabaseCatalog catalog) {
        List<Finding> findings = new ArrayList<>();
        for (Table table : catalog.tables()) {
            Access access = catalog.access(table);
            if (!access.whole()) {
                findings.add(new Finding(
                        Finding.Kind.HIDDEN_RECORDS,
                        table.name(),
                        "row-level security can hide records of it from this user, which the database's own ON DELETE"
                                + " reaches all the same; a run that would take one of them along is taken back",
                        "let Vacancy's user bypass row-level security, or own the table"));
            }
            if (access.local() && !access.transactional()) {
                findings.add(new Finding(
                        Finding.Kind.NOT_TRANSACTIONAL,
                        table.name(),
                        "its storage engine has no transactions, so changes to it can't be taken back, and a deletion that"
                                + " reaches it is refused",
                        "give it an engine that has them, such as InnoDB"));
            }
            if (!access.select() || !access.delete()) {
                findings.add(new Finding(
                        Finding.Kind.MISSING_RIGHT,
                        table.name(),
                        "this user may not " + (access.select() ? "delete its records" : "read it")
                                + ", so a deletion that reaches it is refused",
                        "grant " + (access.select() ? "delete" : "select and delete") + " on " + table.name()));
            }
        }
        return findings;
    }
}
