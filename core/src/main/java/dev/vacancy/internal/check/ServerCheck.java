package dev.vacancy.internal.check;

import dev.vacancy.catalog.Link;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.dialect.Dialect;
import dev.vacancy.internal.request.WrittenRules;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.rules.UnguardedLinks;
import dev.vacancy.rule.Finding;
import dev.vacancy.rule.ServerRule;
import java.util.List;

/** Looks for what several servers of one database can't hold together. */
final class ServerCheck {
    private final Rules rules;
    private final Dialect dialect;

    ServerCheck(Rules rules, Dialect dialect) {
        this.rules = rules;
        this.dialect = dialect;
    }

    List<Finding> findings() {
        if (!dialect.locksAreLocal() || rules.servers().contains(ServerRule.SINGLE_WRITER)) {
            return List.of();
        }
        return UnguardedLinks.of(rules).stream().map(ServerCheck::unguarded).toList();
    }

    /**
     * Tells which tables have records on other servers, unless the rules allow to delete them part by part.
     *
     * @return a finding for each, none if there are none
     */
    static List<Finding> elsewhere(DatabaseCatalog catalog, WrittenRules book) {
        boolean allowed = book.serverRules().contains(ServerRule.PART_BY_PART);
        if (allowed && book.trail().isEmpty()) {
            return List.of();
        }
        String problem = allowed
                ? "records of it lie on other servers, and no commit spans them and the audit trail, so a deletion that reaches it is refused"
                : "records of it lie on other servers, and no commit spans them, so a deletion that reaches it is refused";
        String remedy = allowed
                ? "delete them on the servers where they lie, with a trail of their own, or keep none here"
                : "delete them on the servers where they lie, the children first, or allow it to be done in parts:"
                        + " 'servers: [part-by-part]'";
        return catalog.tables().stream()
                .filter(table -> !catalog.access(table).local())
                .map(table -> new Finding(Finding.Kind.SEVERAL_SERVERS, table.name(), problem, remedy))
                .toList();
    }

    private static Finding unguarded(Link link) {
        return new Finding(
                Finding.Kind.SEVERAL_SERVERS,
                link.where(),
                "this database is a cluster whose nodes know nothing of each other's locks, and doesn't declare the link, so a child"
                        + " that comes in by another node would be left as an orphan; a deletion of its parent is refused",
                "declare the link, or have all who write use one node and say so: 'servers: [single-writer]'");
    }
}
