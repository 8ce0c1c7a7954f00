package dev.vacancy.internal.planning;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.rules.UnguardedLinks;
import dev.vacancy.rule.ServerRule;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * Tells what several servers can't hold together: what other servers of the same database could slip in, where each has locks of its own and
 * only what transactions have written is held against each other as they commit; and what lies on other servers, which no commit spans.
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

    /** Refuses a plan that only a lock would keep whole, or that reaches records elsewhere in another way than by deleting them. */
    void refuse(List<Step> steps) {
        steps.forEach(this::refuseElsewhere);
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

    private void refuseElsewhere(Step step) {
        if (rules.catalog().access(step.table()).local()) {
            return;
        }
        if (!rules.servers().contains(ServerRule.PART_BY_PART)) {
            throw elsewhere(
                    step.table(),
                    "a deletion that reaches it couldn't be all or nothing",
                    "Delete them on the servers where they lie, the children first; or allow it to be done in parts:"
                            + " servers(ServerRule.PART_BY_PART), or 'servers: [part-by-part]'.");
        }
        if (rules.recording().isPresent()) {
            throw elsewhere(
                    step.table(),
                    "what goes there and what the audit trail says of it here couldn't be one",
                    "Delete them on the servers where they lie, with a trail of their own; or use rules without a trail.");
        }
        if (!(step instanceof Step.Delete)) {
            throw elsewhere(
                    step.table(),
                    "only deletions can be done in parts; this one would " + step.attempt(),
                    "Give the link a rule that leaves them alone or deletes them.");
        }
    }

    /**
     * Refuses what has to be done at once, where records lie elsewhere.
     *
     * @throws InvalidRequestException when some do
     */
    static void refuseAtOnce(Table table, DatabaseCatalog catalog) {
        if (!catalog.access(table).local()) {
            throw elsewhere(
                    table,
                    "it couldn't be emptied all or nothing",
                    "Empty it on the servers where they lie, or delete all of its records in a bulk run.");
        }
    }

    private static InvalidRequestException elsewhere(Table table, String why, String remedy) {
        return new InvalidRequestException(
                        FailureCode.SEVERAL_SERVERS,
                        "Records of " + table + " lie on other servers, and no commit spans them: " + why + ".",
                        remedy)
                .about("table", table);
    }

    /** Tells which of the tables that a plan deletes from have records elsewhere. */
    Set<String> reached(List<Step> steps) {
        return steps.stream()
                .map(Step::table)
                .filter(table -> !rules.catalog().access(table).local())
                .map(Table::name)
                .collect(Collectors.toCollection(LinkedHashSet::new));
    }

    /** What whoever looks at the plan should know. */
    List<String> warnings(List<Step> steps) {
        Set<String> reached = reached(steps);
        return reached.isEmpty()
                ? List.of()
                : List.of("Records of " + String.join(", ", reached)
                        + " lie on other servers, and no commit spans them: this goes part by part, the children's side first, and"
                        + " in chunks only.");
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
