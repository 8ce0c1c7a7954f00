package dev.vacancy.internal.check;

import dev.vacancy.catalog.Link;
import dev.vacancy.internal.dialect.Dialect;
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

    private static Finding unguarded(Link link) {
        return new Finding(
                Finding.Kind.SEVERAL_SERVERS,
                link.where(),
                "this database is a cluster whose nodes know nothing of each other's locks, and doesn't declare the link, so a child"
                        + " that comes in by another node would be left as an orphan; a deletion of its parent is refused",
                "declare the link, or have all who write use one node and say so: 'servers: [single-writer]'");
    }
}
