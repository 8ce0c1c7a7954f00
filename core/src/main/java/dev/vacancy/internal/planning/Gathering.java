package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.CatalogTable;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.condition.Resolution;
import dev.vacancy.internal.rules.Rules;
import dev.vacancy.internal.store.KeyDigest;
import dev.vacancy.internal.store.RecordStore;
import dev.vacancy.rule.Rule;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;

/**
 * Grows the set of records that go to its fixpoint, along the links that cascade.
 *
 * <p>Tables are taken parents first, so that each link is asked about once however deep the schema is; only where tables
 * refer to each other in a circle is it asked about once for each generation. Keys are held of tables that something
 * links to. Of a leaf table they are not, and neither of one of which too many records go: its records are picked by those
 * of their parents, by conditions that nest. In a circle that wouldn't do; there all keys are held.
 */
final class Gathering {
    private final DatabaseCatalog catalog;
    private final Rules rules;
    private final Clock clock;
    private final RecordStore store;
    private final long mostKeys;
    private final Set<Table> circular;
    private final RecordSets sets;
    private final Descent descent;

    /**
     * Gathers nothing yet.
     *
     * @param mostKeys of how many records of a table, beside the selected ones, the keys are held
     */
    Gathering(Rules rules, Clock clock, RecordStore store, long mostKeys) {
        this.catalog = rules.catalog();
        this.rules = rules;
        this.clock = clock;
        this.store = store;
        this.mostKeys = mostKeys;
        this.circular = catalog.circular();
        this.sets = new RecordSets(rules, clock, store);
        this.descent = new Descent(sets);
    }

    /** Follows the cascading links from the selected records on; returns all that go. */
    RecordSets from(Table table, Roots roots) {
        roots.unheld()
                .ifPresentOrElse(
                        unheld -> sets.select(table, unheld),
                        () -> roots.roots()
                                .forEach(root -> sets.startKeyed(table).select(root.exact())));
        List<Table> selected = roots.count() == 0 ? List.of() : List.of(table);
        for (Set<Table> circle : CascadeOrder.from(selected, rules)) {
            circle.stream()
                    .filter(reached -> sets.isUnread(reached) && !sets.isLeaf(reached))
                    .forEach(this::followUnread);
            Map<Table, Collection<KeyedRecords.Member>> newest = new LinkedHashMap<>();
            circle.stream()
                    .filter(sets::isKeyed)
                    .forEach(reached ->
                            newest.put(reached, List.copyOf(sets.keyed(reached).members())));
            while (!newest.isEmpty()) {
                Map<Table, Collection<KeyedRecords.Member>> next = new LinkedHashMap<>();
                newest.forEach((reached, members) -> follow(reached, members, circle, next));
                newest.clear();
                newest.putAll(next);
            }
        }
        return sets;
    }

    private void follow(
            Table table,
            Collection<KeyedRecords.Member> members,
            Set<Table> circle,
            Map<Table, Collection<KeyedRecords.Member>> next) {
        for (LinkCase way : cascadesFrom(table)) {
            Table child = sets.reach(way);
            if (sets.isLeaf(child)) {
                sets.leaveUnread(child);
            } else if (!sets.isUnread(child)) {
                List<KeyedRecords.Member> found = read(way, members);
                if (circle.contains(child) && !found.isEmpty()) {
                    next.merge(child, found, Gathering::joined);
                }
            }
        }
    }

    /** The records of a table without keys can't be followed one by one, so all that hangs on them stays unread as well. */
    private void followUnread(Table table) {
        UnreadRecords unread = sets.leaveUnread(table);
        if (!unread.isSelected() && unread.ways().size() > 1) {
            count(unread);
        }
        for (LinkCase way : cascadesFrom(table)) {
            Table child = sets.reach(way);
            if (circular.contains(child)) {
                descent.childrenOfUnread(way, unread.childrenOn(way.rule().link()));
            } else {
                UnreadRecords children = sets.leaveUnread(child);
                if (!sets.isLeaf(child)) {
                    count(children);
                }
            }
        }
    }

    private List<KeyedRecords.Member> read(LinkCase way, Collection<KeyedRecords.Member> members) {
        Table child = way.rule().link().child();
        if (way.rule().lastOnly()) {
            return lastOnly(way, members);
        }
        if (circular.contains(child)) {
            return descent.children(way, members);
        }
        CatalogTable.of(child).requireIdentity();
        OptionalLong locked = store.lockedCount(child, childrenOf(members, way));
        if (locked.isPresent()) {
            if (locked.getAsLong() > 0) {
                sets.leaveUnread(child).count(new RecordStore.Tally(locked.getAsLong(), ""));
            }
            return List.of();
        }
        KeyDigest digest = new KeyDigest();
        Optional<List<KeyedRecords.Member>> found = descent.childrenUpTo(mostKeys, way, members, digest);
        if (found.isEmpty()) {
            sets.leaveUnread(child).count(digest.tally());
        }
        return found.orElse(List.of());
    }

    private Condition childrenOf(Collection<KeyedRecords.Member> members, LinkCase way) {
        Link link = way.rule().link();
        return way.among(sets.keyed(link.parent()).childrenOf(members, link));
    }

    /**
     * The records to which only such point as go. They are locked first, so that nobody can add another that does, and looked at then. Those of
     * which the last one is found later come with that.
     */
    private List<KeyedRecords.Member> lastOnly(LinkCase way, Collection<KeyedRecords.Member> members) {
        Link turned = way.rule().link();
        Table owned = turned.child();
        CatalogTable.of(owned).requireIdentity();
        if (store.purpose().isLocking()) {
            store.records(owned, owned.identity(), childrenOf(members, way));
        }
        List<Condition> others = new ArrayList<>();
        others.add(new Condition.Except(sets.condition(turned.parent()).orElseThrow()));
        if (rules.isMarked(turned.parent())) {
            rules.active(turned.parent())
                    .map(criteria -> Resolution.of(criteria, turned.parent(), catalog, clock))
                    .ifPresent(others::add);
        }
        return descent.children(
                way,
                members,
                new Condition.Except(
                        new Condition.OfChildren(catalog.turnedRound(turned), new Condition.AllOf(others))));
    }

    /** Locks the records of a table that go, if this is for a run, and counts them; reads their keys where those matter. */
    private void count(UnreadRecords records) {
        Table table = records.table();
        Condition going = records.condition().orElseThrow();
        OptionalLong locked = store.lockedCount(table, going);
        if (locked.isPresent()) {
            records.count(new RecordStore.Tally(locked.getAsLong(), ""));
            return;
        }
        KeyDigest digest = new KeyDigest();
        store.eachRecord(table, table.identity(), going, row -> digest.add(table.identity(), row));
        records.count(digest.tally());
    }

    private List<LinkCase> cascadesFrom(Table table) {
        List<LinkCase> cascades = new ArrayList<>();
        for (Link link : catalog.linksTo(table)) {
            if (!CatalogLink.of(link).enforced()
                    && rules.of(link).stream().anyMatch(clause -> clause.rule() != Rule.KEEP)) {
                store.lockTable(link.child());
            }
            sets.casesOf(link).stream()
                    .filter(way -> way.rule().rule() == Rule.CASCADE)
                    .forEach(cascades::add);
        }
        return cascades;
    }

    private static Collection<KeyedRecords.Member> joined(
            Collection<KeyedRecords.Member> first, Collection<KeyedRecords.Member> second) {
        List<KeyedRecords.Member> all = new ArrayList<>(first);
        all.addAll(second);
        return all;
    }
}
