package dev.vacancy.internal.planning;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.rules.UnguardedLinks;
import dev.vacancy.rule.ServerRule;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Tells what other servers of the same database could slip in, where each has locks of its own and only what transactions have written is held
 * against each other as they commit.
 *
 * <p>A child on a declared link tells of its parent by itself: the database writes down that it has looked at it. On an undeclared link nothing
 * does, nor does a parent that is marked tell whoever hands children over to it; but two runs with a trail both write down that they are the next.
 */
final class OtherServers {
    private final Rules rules;
    private final boolean locksAreLocal;

    OtherServers(Rules rules, boolean locksAreLocal) {
        this.rules = rules;
        this.locksAreLocal = locksAreLocal;
    }

    /** Refuses a plan that only a lock would keep whole. */
    void refuse(List<Step> steps) {
        if (!locksAreLocal || rules.servers().contains(ServerRule.SINGLE_WRITER)) {
            return;
        }
        Set<Table> deleted = steps.stream()
                .filter(Step.Delete.class::isInstance)
                .map(Step::table)
                .collect(Collectors.toSet());
        for (Link link : UnguardedLinks.of(rules)) {
            if (deleted.contains(link.parent())) {
                throw refusal(
                        link,
                        "the database doesn't declare " + link.where()
                                + ", so a child that comes in by another node while"
                                + " its parent goes would be left as an orphan");
            }
        }
        for (Step step : steps) {
            if (step instanceof Step.Reassign handing && rules.recording().isEmpty()) {
                rules.catalog().links().stream()
                        .filter(link -> link.child().equals(handing.table())
                                && link.childColumns().equals(handing.columns())
                                && rules.active(link.parent()).isPresent())
                        .findFirst()
                        .ifPresent(link -> {
                            throw refusal(
                                    link,
                                    "children on " + link.where()
                                            + " would be handed over, and another node may mark the"
                                            + " record that takes them as deleted at the same moment");
                        });
            }
        }
    }

    private static InvalidRequestException refusal(Link link, String why) {
        return new InvalidRequestException(
                        FailureCode.SEVERAL_SERVERS,
                        "This database is a cluster whose nodes know nothing of each other's locks: " + why + ".",
                        "Declare the link or keep an audit trail, where that is what is missing; or have all who write use one"
                                + " node, and say so: servers(ServerRule.SINGLE_WRITER), or 'servers: [single-writer]'.")
                .about("link", link.where());
    }
}
