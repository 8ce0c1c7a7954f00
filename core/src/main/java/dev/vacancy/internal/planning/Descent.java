package dev.vacancy.internal.planning;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.store.KeyDigest;
import dev.vacancy.internal.store.RecordStore;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;

/** Reads the children of records that go, and adds them to those, each with the record that takes it along. */
final class Descent {
    private static final int FEWEST_ROUNDS = 8;
    private static final int MORE_ROUNDS = 4;

    private final RecordSets sets;
    private final RecordStore store;
    private final Parentage parentage;
    private final Map<LinkCase, Set<KeyedRecords.Member>> explored = new LinkedHashMap<>();
    private final Map<LinkCase, Integer> rounds = new LinkedHashMap<>();

    /**
     * Begins a descent.
     *
     * @param sets the records that go; children are added to them
     */
    Descent(RecordSets sets) {
        this.sets = sets;
        this.store = sets.store();
        this.parentage = new Parentage(store);
    }

    /** Reads those children of some records that meet a condition, each of them taken along by all; returns those that go newly. */
    List<KeyedRecords.Member> children(LinkCase way, Collection<KeyedRecords.Member> parents, Condition condition) {
        Link link = way.rule().link();
        KeyedRecords home = sets.keyed(link.parent());
        List<List<Object>> rows = store.records(
                link.child(),
                columnsRead(link),
                way.among(new Condition.AllOf(List.of(home.childrenOf(parents, link), condition))));
        List<KeyedRecords.Member> found = add(way, rows, parents);
        if (!rows.isEmpty()) {
            home.takeAlong(sets.startKeyed(link.child()), rows, link);
        }
        return found;
    }

    /** Reads the children of some records over a cascading clause; returns those that go newly. */
    List<KeyedRecords.Member> children(LinkCase way, Collection<KeyedRecords.Member> parents) {
        return CatalogLink.of(way.rule().link()).isToItself()
                ? readDescendants(way, parents)
                : readNextGeneration(way, parents);
    }

    /**
     * Does the same for children of another table as long as there aren't too many of them.
     *
     * @param most how many may be added
     * @param digest takes the key of each child, however many there are
     * @return those that go newly; empty if there are too many, so that none of them is added
     */
    Optional<List<KeyedRecords.Member>> childrenUpTo(
            long most, LinkCase way, Collection<KeyedRecords.Member> parents, KeyDigest digest) {
        Link link = way.rule().link();
        KeyedRecords home = sets.keyed(link.parent());
        List<Column> identity = link.child().identity();
        List<List<Object>> rows = new ArrayList<>();
        store.eachRecord(link.child(), columnsRead(link), way.among(home.childrenOf(parents, link)), row -> {
            digest.add(identity, row);
            if (digest.count() <= most) {
                rows.add(row);
            } else {
                rows.clear();
            }
        });
        return digest.count() > most ? Optional.empty() : Optional.of(add(way, rows, parents));
    }

    /** Reads the children of records whose keys aren't held; returns those that go newly, without who takes them along. */
    List<KeyedRecords.Member> childrenOfUnread(LinkCase way, Condition children) {
        Link link = way.rule().link();
        List<List<Object>> rows = store.records(link.child(), columnsRead(link), way.among(children));
        return rows.isEmpty() ? List.of() : add(way, rows, List.<Optional<KeyedRecords.Member>>of());
    }

    private List<KeyedRecords.Member> readNextGeneration(LinkCase way, Collection<KeyedRecords.Member> parents) {
        Link link = way.rule().link();
        KeyedRecords home = sets.keyed(link.parent());
        return add(
                way,
                store.records(link.child(), columnsRead(link), way.among(home.childrenOf(parents, link))),
                parents);
    }

    private List<KeyedRecords.Member> add(
            LinkCase way, List<List<Object>> rows, Collection<KeyedRecords.Member> parents) {
        Link link = way.rule().link();
        KeyedRecords home = sets.keyed(link.parent());
        return rows.isEmpty()
                ? List.of()
                : add(way, rows, parentage.of(link, rows, home.byReference(parents, link), home));
    }

    /**
     * Reads the generations below some records of one table at once, as many as the database goes down in one query. For
     * a run they are read again to be locked, and once more for what was added meanwhile.
     */
    private List<KeyedRecords.Member> readDescendants(LinkCase way, Collection<KeyedRecords.Member> parents) {
        Link link = way.rule().link();
        KeyedRecords home = sets.keyed(link.parent());
        Set<KeyedRecords.Member> known = explored.computeIfAbsent(way, missing -> new HashSet<>());
        List<KeyedRecords.Member> open =
                parents.stream().filter(member -> !known.contains(member)).toList();
        if (open.isEmpty()) {
            return List.of();
        }
        OptionalInt depth = depth(way);
        List<List<Object>> rows =
                store.descendants(link, columnsRead(link), way.among(home.childrenOf(open, link)), way.only(), depth);
        known.addAll(open);
        List<KeyedRecords.Member> found = add(way, rows, List.<Optional<KeyedRecords.Member>>of());
        Map<KeyedRecords.Member, Integer> generations = generations(link, rows, open, home);
        if (depth.isPresent()) {
            // Those that the last round reached have been read, but not their children.
            int last = depth.getAsInt();
            found.stream()
                    .filter(member -> generations.getOrDefault(member, last) < last)
                    .forEach(known::add);
            rounds.put(way, nextDepth(last, rows.size()));
        } else {
            known.addAll(found);
        }
        if (store.purpose().isLocking() && !found.isEmpty()) {
            store.records(link.child(), link.child().identity(), KeyedRecords.condition(link.child(), found));
            List<KeyedRecords.Member> all = new ArrayList<>(found);
            all.addAll(readNextGeneration(way, found));
            return all;
        }
        return found;
    }

    /**
     * How deep the next query goes, where the database would go round a circle of records for ever. A long chain is soon
     * followed thousands of records at a time; below a circle each round finds the same ones again, so there it stays few.
     */
    private OptionalInt depth(LinkCase way) {
        OptionalInt deepest = store.traits().deepestRecursion();
        return deepest.isEmpty()
                ? deepest
                : OptionalInt.of(Math.min(deepest.getAsInt(), rounds.getOrDefault(way, FEWEST_ROUNDS)));
    }

    private static int nextDepth(int depth, int found) {
        return found <= depth * MORE_ROUNDS ? depth * MORE_ROUNDS : FEWEST_ROUNDS;
    }

    /** Gives each of the records its parent, and counts how far it is from those that the reading began with. */
    private Map<KeyedRecords.Member, Integer> generations(
            Link link, List<List<Object>> rows, List<KeyedRecords.Member> first, KeyedRecords home) {
        List<Optional<KeyedRecords.Member>> parents =
                parentage.of(link, rows, home.byReference(home.members(), link), home);
        Map<KeyedRecords.Member, List<KeyedRecords.Member>> children = new LinkedHashMap<>();
        int width = link.child().identity().size();
        for (int i = 0; i < rows.size(); i++) {
            KeyedRecords.Member child = home.member(rows.get(i).subList(0, width));
            parents.get(i).ifPresent(parent -> {
                child.becauseOf(parent);
                children.computeIfAbsent(parent, missing -> new ArrayList<>()).add(child);
            });
        }
        Map<KeyedRecords.Member, Integer> generations = new LinkedHashMap<>();
        List<KeyedRecords.Member> generation = first;
        for (int number = 1; !generation.isEmpty(); number++) {
            List<KeyedRecords.Member> next = new ArrayList<>();
            for (KeyedRecords.Member parent : generation) {
                for (KeyedRecords.Member child : children.getOrDefault(parent, List.of())) {
                    if (generations.putIfAbsent(child, number) == null) {
                        next.add(child);
                    }
                }
            }
            generation = next;
        }
        return generations;
    }

    private List<KeyedRecords.Member> add(
            LinkCase way, List<List<Object>> rows, List<Optional<KeyedRecords.Member>> parents) {
        Link link = way.rule().link();
        int width = sets.columnsRead(link.child()).size();
        KeyedRecords children = sets.startKeyed(link.child());
        List<KeyedRecords.Member> found = new ArrayList<>();
        for (int i = 0; i < rows.size(); i++) {
            List<Object> row = rows.get(i);
            children.add(row.subList(0, width)).ifPresent(found::add);
            KeyedRecords.Member member =
                    children.member(row.subList(0, link.child().identity().size()));
            children.reach(way, member);
            if (!parents.isEmpty()) {
                parents.get(i).ifPresent(member::becauseOf);
            }
        }
        return found;
    }

    /** What has to be known of the children on a link: what is known of any record, and the foreign key behind it. */
    private List<Column> columnsRead(Link link) {
        List<Column> columns = new ArrayList<>(sets.columnsRead(link.child()));
        columns.addAll(link.childColumns());
        return columns;
    }
}
