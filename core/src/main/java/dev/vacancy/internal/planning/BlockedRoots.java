package dev.vacancy.internal.planning;

import dev.vacancy.Blocker;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.internal.condition.Condition;
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
    private final Map<RecordsToDelete.Member, List<Blocker>> byRoot = new LinkedHashMap<>();

    BlockedRoots(Gathering gathering, Lookup lookup, Records records) {
        this.gathering = gathering;
        this.lookup = lookup;
        this.records = records;
    }

    /** Adds the children that a condition picks on a blocker's link. */
    void add(Blocker blocker, Condition blocking) {
        Link link = blocker.link();
        Map<RecordsToDelete.Member, Long> counts = new LinkedHashMap<>();
        for (Lookup.Counted counted : lookup.countByParent(link, blocking)) {
            Optional.ofNullable(gathering.recordsOf(link.parent()).member(counted.identity()))
                    .map(BlockedRoots::rootsAbove)
                    .orElse(Set.of())
                    .forEach(root -> counts.merge(root, counted.count(), Long::sum));
        }
        Map<RecordsToDelete.Member, List<Blocker.Child>> named = name(link, blocking);
        counts.forEach((root, count) -> byRoot.computeIfAbsent(root, missing -> new ArrayList<>())
                .add(new Blocker(link, blocker.reason(), count, named.getOrDefault(root, List.of()))));
    }

    /** Who blocks each of the selected records that can't go. */
    Map<RecordsToDelete.Member, List<Blocker>> byRoot() {
        return byRoot;
    }

    private Map<RecordsToDelete.Member, List<Blocker.Child>> name(Link link, Condition blocking) {
        Map<RecordsToDelete.Member, List<Blocker.Child>> named = new LinkedHashMap<>();
        if (lookup.locking()) {
            return named;
        }
        List<Map<Column, Object>> children =
                lookup.firstOf(new Lookup.First(CHILDREN_READ, true, link.child(), records.traced(link), blocking));
        List<Optional<RecordsToDelete.Member>> parents = gathering.parentsOn(link, Records.traces(link, children));
        for (int i = 0; i < children.size(); i++) {
            for (RecordsToDelete.Member root :
                    parents.get(i).map(BlockedRoots::rootsAbove).orElse(Set.of())) {
                List<Blocker.Child> ofRoot = named.computeIfAbsent(root, missing -> new ArrayList<>());
                if (ofRoot.size() < CHILDREN_NAMED) {
                    ofRoot.add(
                            new Blocker.Child(link.child(), records.sample(link.child(), children.get(i)), List.of()));
                }
            }
        }
        return named;
    }

    private static Set<RecordsToDelete.Member> rootsAbove(RecordsToDelete.Member member) {
        Set<RecordsToDelete.Member> seen = new LinkedHashSet<>(Set.of(member));
        List<RecordsToDelete.Member> open = new ArrayList<>(seen);
        while (!open.isEmpty()) {
            RecordsToDelete.Member next = open.remove(open.size() - 1);
            next.because().stream().filter(seen::add).forEach(open::add);
        }
        seen.removeIf(above -> !above.isRoot());
        return seen;
    }
}
