package dev.vacancy.plan;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.criteria.Condition;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Finds the selected records from which a blocker can be reached, and who blocks each of them. */
final class BlockedRoots {
    private static final int CHILDREN_READ = 200;
    private static final int CHILDREN_NAMED = 3;

    private final Gathering gathering;
    private final Lookup lookup;
    private final Records records;
    private final Map<Going.Member, List<Blocker>> byRoot = new LinkedHashMap<>();

    BlockedRoots(Gathering gathering, Lookup lookup, Records records) {
        this.gathering = gathering;
        this.lookup = lookup;
        this.records = records;
    }

    /** Adds the children that a condition picks on a blocker's link. */
    void add(Blocker blocker, Condition blocking) {
        Link link = blocker.link();
        Map<Going.Member, Long> counts = new LinkedHashMap<>();
        for (Lookup.Counted counted : lookup.countBy(link.child(), link.childColumns(), blocking)) {
            rootsOver(link, counted.values()).forEach(root -> counts.merge(root, counted.count(), Long::sum));
        }
        Map<Going.Member, List<Blocker.Child>> named = name(link, blocking);
        counts.forEach((root, count) -> byRoot.computeIfAbsent(root, missing -> new ArrayList<>())
                .add(new Blocker(link, blocker.reason(), count, named.getOrDefault(root, List.of()))));
    }

    /** Who blocks each of the selected records that can't go. */
    Map<Going.Member, List<Blocker>> byRoot() {
        return byRoot;
    }

    private Map<Going.Member, List<Blocker.Child>> name(Link link, Condition blocking) {
        Map<Going.Member, List<Blocker.Child>> named = new LinkedHashMap<>();
        if (lookup.locking()) {
            return named;
        }
        Set<Column> columns = records.shown(link.child());
        columns.addAll(link.childColumns());
        for (Map<Column, Object> values : lookup.first(CHILDREN_READ, link.child(), columns, blocking)) {
            List<Object> foreignKey =
                    link.childColumns().stream().map(values::get).toList();
            for (Going.Member root : rootsOver(link, foreignKey)) {
                List<Blocker.Child> children = named.computeIfAbsent(root, missing -> new ArrayList<>());
                if (children.size() < CHILDREN_NAMED) {
                    children.add(new Blocker.Child(link.child(), records.sample(link.child(), values), List.of()));
                }
            }
        }
        return named;
    }

    private Set<Going.Member> rootsOver(Link link, List<Object> foreignKey) {
        Optional<Going.Member> parent = gathering.parentOn(link, foreignKey);
        return parent.map(BlockedRoots::rootsAbove).orElse(Set.of());
    }

    private static Set<Going.Member> rootsAbove(Going.Member member) {
        Set<Going.Member> seen = new LinkedHashSet<>(Set.of(member));
        List<Going.Member> open = new ArrayList<>(seen);
        while (!open.isEmpty()) {
            Going.Member next = open.remove(open.size() - 1);
            next.because().stream().filter(seen::add).forEach(open::add);
        }
        seen.removeIf(above -> !above.isRoot());
        return seen;
    }
}
