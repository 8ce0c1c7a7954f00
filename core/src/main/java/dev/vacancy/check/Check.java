package dev.vacancy.check;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.dialect.Dialect;
import dev.vacancy.rule.RuleBook;
import dev.vacancy.rule.Rules;
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
     * @param book the rules
     * @param clock tells the moment that relative times are told from
     * @return what was found, the worst first; empty if all is well
     * @throws SQLException when the database doesn't answer
     */
    public static List<Finding> findings(Connection connection, Dialect dialect, RuleBook book, Clock clock)
            throws SQLException {
        Catalog declared = Catalog.read(connection, dialect);
        List<Finding> findings = new ArrayList<>();
        Rules.Reading rules = Rules.read(book, declared, clock);
        rules.problems()
                .forEach(problem -> findings.add(
                        new Finding(Finding.Kind.RULE, problem.where(), problem.what(), problem.remedy())));
        Catalog catalog = rules.catalog();
        findings.addAll(new SchemaCheck(catalog, dialect).findings());
        findings.addAll(new PerhapsLinks(catalog, dialect, connection).findings());
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
}
