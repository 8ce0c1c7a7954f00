package dev.vacancy.rule;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Link;
import dev.vacancy.criteria.Condition;
import java.time.Clock;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The rule of each link of a catalog.
 *
 * @since 0.1
 */
public final class Rules {
    private final Catalog catalog;
    private final Map<Link, List<LinkRule>> byLink;

    private Rules(Catalog catalog, Map<Link, List<LinkRule>> byLink) {
        this.catalog = catalog;
        this.byLink = byLink;
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
        Catalog all = reader.catalog();
        Map<Link, List<LinkRule>> byLink = new LinkedHashMap<>();
        for (Link link : all.links()) {
            byLink.put(link, reader.clausesOn(link));
        }
        reader.refuseProblems();
        return new Rules(all, byLink);
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
     * Returns the clauses on a link as they apply at a moment, each without the children that an earlier one decides
     * for.
     *
     * @param link a link of {@link #catalog()}
     * @param clock tells the moment
     * @return at least one, in their order
     */
    public List<LinkCase> casesOf(Link link, Clock clock) {
        List<LinkCase> cases = new ArrayList<>();
        List<Condition> earlier = new ArrayList<>();
        for (LinkRule rule : of(link)) {
            List<Condition> parts = new ArrayList<>(earlier);
            Optional<Condition> own = rule.criteria().map(criteria -> criteria.on(link.child(), catalog, clock));
            own.ifPresent(condition -> {
                parts.add(0, condition);
                earlier.add(new Condition.Except(condition));
            });
            cases.add(new LinkCase(rule, parts.isEmpty() ? Optional.empty() : Optional.of(new Condition.AllOf(parts))));
        }
        return cases;
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
}
