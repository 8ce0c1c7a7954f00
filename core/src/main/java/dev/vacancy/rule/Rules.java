package dev.vacancy.rule;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Criteria;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The rule of each link of a catalog.
 *
 * @since 0.1
 */
public final class Rules {
    private final Catalog catalog;
    private final Map<Link, List<LinkRule>> byLink;
    private final Map<Table, Criteria> active;
    private final Drift drift;

    private Rules(Catalog catalog, Map<Link, List<LinkRule>> byLink, Map<Table, Criteria> active, Drift drift) {
        this.drift = drift;
        this.catalog = catalog;
        this.byLink = byLink;
        this.active = active;
    }

    /**
     * Takes the rules of a book, and for all else those that the schema itself states: ON DELETE CASCADE cascades, SET
     * NULL detaches, SET DEFAULT resets, RESTRICT and NO ACTION block. A SET NULL on a column that may not be null can
     * only fail, so it blocks.
     *
     * @param book what the application says
     * @param catalog what the database holds
     * @param clock tells the moment that relative times are told from
     * @return a rule for each link, those among them that only the book declares
     * @throws RulesException when the book names what isn't there or asks for what can't be kept; all problems at once
     */
    public static Rules of(RuleBook book, Catalog catalog, Clock clock) {
        RuleReader reader = new RuleReader(book, catalog, clock);
        Map<Link, List<LinkRule>> byLink = clauses(reader);
        if (!reader.problems().isEmpty()) {
            throw new RulesException(reader.problems());
        }
        return new Rules(reader.catalog(), byLink, reader.active(), reader.drift());
    }

    /**
     * Tells what is wrong with a book of rules, and what the catalog is with the links of it that can be understood.
     *
     * @param book what the application says
     * @param catalog what the database holds
     * @param clock tells the moment that relative times are told from
     * @return the problems, none if the rules can be kept
     */
    public static Reading read(RuleBook book, Catalog catalog, Clock clock) {
        RuleReader reader = new RuleReader(book, catalog, clock);
        clauses(reader);
        return new Reading(reader.catalog(), reader.problems());
    }

    /**
     * What was made of a book of rules.
     *
     * @param catalog the catalog with the links that only the book declares
     * @param problems what is wrong with the book
     */
    public record Reading(Catalog catalog, List<RuleProblem> problems) {
        /** Keeps its own copy of the problems. */
        public Reading {
            problems = List.copyOf(problems);
        }
    }

    private static Map<Link, List<LinkRule>> clauses(RuleReader reader) {
        Map<Link, List<LinkRule>> byLink = new LinkedHashMap<>();
        reader.catalog().links().forEach(link -> byLink.put(link, reader.clausesOn(link)));
        return byLink;
    }

    /**
     * Returns the catalog with the links that only the rules declare.
     *
     * @return the catalog that these rules are for
     */
    public Catalog catalog() {
        return catalog;
    }

    /**
     * Returns the clauses on a link.
     *
     * @param link a link of {@link #catalog()}
     * @return at least one, in their order
     */
    public List<LinkRule> of(Link link) {
        return byLink.get(link);
    }

    /**
     * Tells which records of a table are active.
     *
     * @param table a table of {@link #catalog()}
     * @return what picks them; nothing if the table has no marker, so that all of them are
     */
    public Optional<Criteria> active(Table table) {
        return Optional.ofNullable(active.get(table));
    }

    /**
     * Returns what never stands still.
     *
     * @return the tables and columns that fingerprints leave out
     */
    public Drift drift() {
        return drift;
    }

    /**
     * Returns these rules for a part of the catalog: the tables that a deletion from one of them can reach, and those that it
     * hangs on.
     *
     * @param table a table of {@link #catalog()}
     * @return the same rules, with a smaller catalog
     */
    public Rules around(Table table) {
        Set<Table> losing = new LinkedHashSet<>(Set.of(table));
        List<Table> open = new ArrayList<>(losing);
        while (!open.isEmpty()) {
            for (Link link : catalog.linksTo(open.remove(open.size() - 1))) {
                if (mayCascade(link) && losing.add(link.child())) {
                    open.add(link.child());
                }
            }
        }
        List<Link> near = catalog.links().stream()
                .filter(link -> losing.contains(link.parent()) || link.child().equals(table))
                .toList();
        return new Rules(catalog.only(table, near), byLink, active, drift);
    }

    /**
     * Tells whether children on a link may go with their parent.
     *
     * @param link a link of {@link #catalog()}
     * @return true if one of its clauses cascades
     */
    public boolean mayCascade(Link link) {
        return of(link).stream().anyMatch(rule -> rule.rule() == Rule.CASCADE);
    }

    /**
     * Returns the catalog and its rules in plain records of text, for a mapper to JSON or for a page.
     *
     * @return the same in words
     */
    public RulesView view() {
        return RulesView.of(this);
    }
}
