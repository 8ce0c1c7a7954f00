package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.rule.Rule;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** How many children there are of each kind that isn't read one by one, all of them asked for at once. */
final class ChildCounts {
    private final Set<Table> uncounted = new HashSet<>();
    private final Map<Table, Lookup.Tally> leaves = new LinkedHashMap<>();
    private final IdentityHashMap<LinkCase, Condition> staying = new IdentityHashMap<>();
    private final IdentityHashMap<LinkCase, Lookup.Tally> ofStaying = new IdentityHashMap<>();

    /**
     * Asks for the tallies.
     *
     * @param links the links to records that go
     */
    ChildCounts(Gathering gathering, Lookup lookup, List<Link> links) {
        List<Table> candidates = gathering.tables().stream()
                .filter(gathering::canBeCountedByDeleting)
                .toList();
        uncounted.addAll(candidates);
        uncounted.removeAll(lookup.keepingRows(candidates));
        List<Table> tables = gathering.tables().stream()
                .filter(table -> gathering.isUnread(table)
                        && gathering.digestOf(table).isEmpty()
                        && gathering.countOf(table).isEmpty()
                        && !uncounted.contains(table))
                .toList();
        List<LinkCase> cases = links.stream()
                .flatMap(link -> gathering.casesOf(link).stream())
                .filter(way -> way.rule().rule() != Rule.CASCADE)
                .toList();
        List<Lookup.Picked> picked = new ArrayList<>();
        for (Table table : tables) {
            picked.add(new Lookup.Picked(table, gathering.condition(table).orElseThrow()));
        }
        for (LinkCase way : cases) {
            staying.put(way, staying(gathering, way));
            picked.add(new Lookup.Picked(way.rule().link().child(), staying.get(way)));
        }
        List<Lookup.Tally> tallies = lookup.tallies(picked);
        for (int i = 0; i < tables.size(); i++) {
            leaves.put(tables.get(i), tallies.get(i));
        }
        for (int i = 0; i < cases.size(); i++) {
            ofStaying.put(cases.get(i), tallies.get(tables.size() + i));
        }
    }

    private static Condition staying(Gathering gathering, LinkCase way) {
        Link link = way.rule().link();
        Condition children = way.among(gathering.childrenOn(link));
        return gathering
                .condition(link.child())
                .<Condition>map(going -> new Condition.AllOf(List.of(children, new Condition.Except(going))))
                .orElse(children);
    }

    /** The tables that the statement which deletes from them is the first to count. */
    Set<Table> uncounted() {
        return uncounted;
    }

    /** The records of a table that go, where their keys aren't read and nothing has counted them yet. */
    Lookup.Tally ofLeaf(Table table) {
        return leaves.get(table);
    }

    /** The children that a clause decides for and that don't go. */
    Lookup.Tally ofStaying(LinkCase way) {
        return ofStaying.get(way);
    }

    /** Picks the children that a clause decides for and that don't go. */
    Condition staying(LinkCase way) {
        return staying.get(way);
    }
}
