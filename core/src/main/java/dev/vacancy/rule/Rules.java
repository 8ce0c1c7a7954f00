package dev.vacancy.rule;

import dev.vacancy.catalog.Catalog;
import dev.vacancy.catalog.Link;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The rule of each link.
 *
 * @since 0.1
 */
public final class Rules {
    private final Map<Link, LinkRule> byLink = new LinkedHashMap<>();

    private Rules(List<LinkRule> rules) {
        rules.forEach(rule -> byLink.put(rule.link(), rule));
    }

    /**
     * Takes the rules that the schema itself states: ON DELETE CASCADE cascades, SET NULL detaches, SET DEFAULT resets,
     * RESTRICT and NO ACTION block. A SET NULL on a column that may not be null can only fail, so it blocks.
     *
     * @param catalog what the database holds
     * @return a rule for each link
     */
    public static Rules bySchema(Catalog catalog) {
        return new Rules(catalog.links().stream().map(Rules::bySchema).toList());
    }

    /**
     * Returns the rule of a link.
     *
     * @param link a link of the catalog that these rules were made for
     * @return its rule
     */
    public LinkRule of(Link link) {
        return byLink.get(link);
    }

    private static LinkRule bySchema(Link link) {
        String schema = "the schema says " + link.onDelete().sql();
        return switch (link.onDelete()) {
            case CASCADE -> new LinkRule(link, Rule.CASCADE, schema);
            case SET_DEFAULT -> new LinkRule(link, Rule.RESET, schema);
            case SET_NULL ->
                link.nullable()
                        ? new LinkRule(link, Rule.DETACH, schema)
                        : new LinkRule(link, Rule.BLOCK, schema + ", but the column may not be null");
            case RESTRICT, NO_ACTION -> new LinkRule(link, Rule.BLOCK, schema);
        };
    }
}
