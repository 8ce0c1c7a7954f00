package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.RecordStore;
import dev.vacancy.rule.Rule;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** How many records there are of each kind that nobody has counted yet, all of them asked for at once. */
final class ChildCounts {
    private final Rules rules;
    private final RecordSets sets;
    private final Set<Table> uncounted;
    private final Map<Table, RecordStore.Tally> going = new LinkedHashMap<>();
    private final IdentityHashMap<LinkCase, Condition> staying = new IdentityHashMap<>();
    private final IdentityHashMap<LinkCase, RecordStore.Tally> ofStaying = new IdentityHashMap<>();

    /** Asks for them. */
    ChildCounts(Rules rules, RecordSets sets) {
        this.rules = rules;
        this.sets = sets;
        List<Table> candidates =
                sets.tables().stream().filter(this::canBeCountedByDeleting).toList();
        uncounted = new HashSet<>(candidates);
        uncounted.removeAll(sets.store().keepingRecords(candidates));
        List<Table> tables = new ArrayList<>();
        List<RecordStore.Picked> picked = new ArrayList<>();
        for (Table table : sets.tables()) {
            RecordSet set = sets.of(table);
            set.tally().ifPresent(tally -> going.put(table, tally));
            if (set.tally().isEmpty() && !uncounted.contains(table)) {
                tables.add(table);
                picked.add(new RecordStore.Picked(table, set.condition().orElseThrow()));
            }
        }
        List<LinkCase> cases = sets.links().stream()
                .flatMap(link -> sets.casesOf(link).stream())
                .filter(way -> way.rule().rule() != Rule.CASCADE)
                .toList();
        for (LinkCase way : cases) {
            Link link = way.rule().link();
            staying.put(way, sets.staying(link.child(), way.among(sets.childrenOn(link))));
            picked.add(new RecordStore.Picked(link.child(), staying.get(way)));
        }
        List<RecordStore.Tally> tallies = sets.store().tallies(picked);
        for (int i = 0; i < tables.size(); i++) {
            going.put(tables.get(i), tallies.get(i));
        }
        for (int i = 0; i < cases.size(); i++) {
            ofStaying.put(cases.get(i), tallies.get(tables.size() + i));
        }
    }

    /**
     * Whether the statement that deletes the records of a table could be the first to count them: nothing hangs on them, all children of
     * the records that go are theirs, and nobody is asked.
     */
    private boolean canBeCountedByDeleting(Table table) {
        DatabaseCatalog catalog = rules.catalog();
        return sets.store().traits().countsByDeleting()
                && sets.of(table) instanceof UnreadRecords unread
                && !unread.isSelected()
                && sets.isLeaf(table)
                && !rules.isMarked(table)
                && rules.consent(table).isEmpty()
                && catalog.access(table).delete()
                && catalog.linksFrom(table).stream()
                        .filter(link -> sets.isReached(link.parent()))
                        .allMatch(this::takesAll);
    }

    private boolean takesAll(Link link) {
        List<LinkCase> on = sets.casesOf(link);
        return on.size() == 1
                && on.get(0).rule().rule() == Rule.CASCADE
                && on.get(0).only().isEmpty();
    }

    /** The tables that the statement which deletes from them is the first to count. */
    Set<Table> uncounted() {
        return uncounted;
    }

    /** The records of a table that go. */
    RecordStore.Tally ofGoing(Table table) {
        return going.get(table);
    }

    /** The children that a clause decides for and that don't go. */
    RecordStore.Tally ofStaying(LinkCase way) {
        return ofStaying.get(way);
    }

    /** Picks the children that a clause decides for and that don't go. */
    Condition staying(LinkCase way) {
        return staying.get(way);
    }
}
