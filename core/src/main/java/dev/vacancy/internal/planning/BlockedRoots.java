package dev.vacancy.internal.planning;

import dev.vacancy.Blocker;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.store.RecordStore;
import dev.vacancy.internal.store.Records;
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

    private final RecordSets sets;
    private final Samples samples;
    private final Map<Key, List<Blocker>> byRoot = new LinkedHashMap<>();

    BlockedRoots(RecordSets sets, Samples samples) {
        this.sets = sets;
        this.samples = samples;
    }

    /** Adds the children that a condition picks on a blocker's link. */
    void add(Blocker blocker, Condition blocking) {
        Link link = blocker.link();
        KeyedRecords parents = sets.keyed(link.parent());
        Map<KeyedRecords.Member, Long> counts = new LinkedHashMap<>();
        for (RecordStore.Counted counted : sets.store().countByParent(link, blocking)) {
            Optional.ofNullable(parents.member(counted.identity()))
                    .map(BlockedRoots::rootsAbove)
                    .orElse(Set.of())
                    .forEach(root -> counts.merge(root, counted.count(), Long::sum));
        }
        Map<KeyedRecords.Member, List<Blocker.Child>> named = name(link, parents, blocking);
        counts.forEach((root, count) -> byRoot.computeIfAbsent(root.key(), missing -> new ArrayList<>())
                .add(new Blocker(link, blocker.reason(), count, named.getOrDefault(root, List.of()))));
    }

    /** Who blocks each of the selected records that can't go. */
    Map<Key, List<Blocker>> byRoot() {
        return byRoot;
    }

    private Map<KeyedRecords.Member, List<Blocker.Child>> name(Link link, KeyedRecords home, Condition blocking) {
        Map<KeyedRecords.Member, List<Blocker.Child>> named = new LinkedHashMap<>();
        if (sets.store().purpose().isLocking()) {
            return named;
        }
        List<Map<Column, Object>> children = samples.firstOf(link, CHILDREN_READ, blocking);
        List<Optional<KeyedRecords.Member>> parents = home.parentsOn(link, Records.traces(link, children));
        for (int i = 0; i < children.size(); i++) {
            for (KeyedRecords.Member root :
                    parents.get(i).map(BlockedRoots::rootsAbove).orElse(Set.of())) {
                List<Blocker.Child> ofRoot = named.computeIfAbsent(root, missing -> new ArrayList<>());
                if (ofRoot.size() < CHILDREN_NAMED) {
                    ofRoot.add(samples.child(link, children.get(i)));
                }
            }
        }
        return named;
    }

    private static Set<KeyedRecords.Member> rootsAbove(KeyedRecords.Member member) {
        Set<KeyedRecords.Member> seen = new LinkedHashSet<>(Set.of(member));
        List<KeyedRecords.Member> open = new ArrayList<>(seen);
        while (!open.isEmpty()) {
            KeyedRecords.Member next = open.remove(open.size() - 1);
            next.because().stream().filter(seen::add).forEach(open::add);
        }
        seen.removeIf(above -> !above.isRoot());
        return seen;
    }
}
