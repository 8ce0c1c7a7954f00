package dev.vacancy.internal.planning;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.DatabaseCatalog;
import dev.vacancy.internal.condition.Condition;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import java.util.Set;

/** Reads the children of records that go, and adds them to those, each with the record that takes it along. */
final class Descent {
    private static final int FEWEST_ROUNDS = 8;
    private static final int MORE_ROUNDS = 4;

    private final DatabaseCatalog catalog;
    private final Lookup lookup;
    private final Parentage parentage;
    private final Map<Table, DoomedRecords> doomed;
    private final Map<LinkCase, Set<DoomedRecords.Member>> reached = new LinkedHashMap<>();
    private final Map<LinkCase, Set<DoomedRecords.Member>> explored = new LinkedHashMap<>();
    private final Map<LinkCase, Integer> rounds = new LinkedHashMap<>();

    /**
     * Begins a descent.
     *
     * @param doomed the records that go, by table; children are added to them
     */
    Descent(DatabaseCatalog catalog, Lookup lookup, Map<Table, DoomedRecords> doomed) {
        this.catalog = catalog;
        this.lookup = lookup;
        this.parentage = new Parentage(lookup);
        this.doomed = doomed;
    }

    /** The records of a table that go, none at first. */
    DoomedRecords recordsOf(Table table) {
        return doomed.computeIfAbsent(table, this::start);
    }

    /** What has to be known of each record of a table: its identity, and whatever its children refer to. */
    List<Column> columnsRead(Table table) {
        Set<Column> columns = new LinkedHashSet<>(table.identity());
        catalog.linksTo(table).forEach(link -> columns.addAll(link.parentColumns()));
        return List.copyOf(columns);
    }

    /** How many children were reached over a cascading clause. */
    long reachedOver(LinkCase way) {
        return reached.getOrDefault(way, Set.of()).size();
    }

    /** Reads the children of some records over a cascading clause; returns those that go newly. */
    List<DoomedRecords.Member> children(LinkCase way, Collection<DoomedRecords.Member> parents) {
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
    Optional<List<DoomedRecords.Member>> childrenUpTo(
            long most, LinkCase way, Collection<DoomedRecords.Member> parents, KeyDigest digest) {
        Link link = way.rule().link();
        DoomedRecords home = doomed.get(link.parent());
        List<Column> identity = link.child().identity();
        List<List<Object>> rows = new ArrayList<>();
        lookup.eachRecord(link.child(), columnsRead(link), way.among(home.childrenOf(parents, link)), row -> {
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
    List<DoomedRecords.Member> childrenOfUnread(LinkCase way, Condition children) {
        Link link = way.rule().link();
        List<List<Object>> rows = lookup.records(link.child(), columnsRead(link), way.among(children));
        return rows.isEmpty() ? List.of() : add(way, rows, List.<Optional<DoomedRecords.Member>>of());
    }

    private List<DoomedRecords.Member> readNextGeneration(LinkCase way, Collection<DoomedRecords.Member> parents) {
        Link link = way.rule().link();
        DoomedRecords home = doomed.get(link.parent());
        return add(
                way,
                lookup.records(link.child(), columnsRead(link), way.among(home.childrenOf(parents, link))),
                parents);
    }

    private List<DoomedRecords.Member> add(
            LinkCase way, List<List<Object>> rows, Collection<DoomedRecords.Member> parents) {
        Link link = way.rule().link();
        DoomedRecords home = doomed.get(link.parent());
        return rows.isEmpty()
                ? List.of()
                : add(way, rows, parentage.of(link, rows, home.byReference(parents, link), home));
    }

    /**
     * Reads the generations below some records of one table at once, as many as the database goes down in one query. For
     * a run they are read again to be locked, and once more for what was added meanwhile.
     */
    private List<DoomedRecords.Member> readDescendants(LinkCase way, Collection<DoomedRecords.Member> parents) {
        Link link = way.rule().link();
        DoomedRecords home = doomed.get(link.parent());
        Set<DoomedRecords.Member> known = explored.computeIfAbsent(way, missing -> new HashSet<>());
        List<DoomedRecords.Member> open =
                parents.stream().filter(member -> !known.contains(member)).toList();
        if (open.isEmpty()) {
            return List.of();
        }
        OptionalInt depth = depth(way);
        List<List<Object>> rows =
                lookup.descendants(link, columnsRead(link), way.among(home.childrenOf(open, link)), way.only(), depth);
        known.addAll(open);
        List<DoomedRecords.Member> found = add(way, rows, List.<Optional<DoomedRecords.Member>>of());
        Map<DoomedRecords.Member, Integer> generations = generations(link, rows, open, home);
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
        if (lookup.locking() && !found.isEmpty()) {
            lookup.records(link.child(), link.child().identity(), DoomedRecords.condition(link.child(), found));
            List<DoomedRecords.Member> all = new ArrayList<>(found);
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
        OptionalInt deepest = lookup.deepestRecursion();
        return deepest.isEmpty()
                ? deepest
                : OptionalInt.of(Math.min(deepest.getAsInt(), rounds.getOrDefault(way, FEWEST_ROUNDS)));
    }

    private static int nextDepth(int depth, int found) {
        return found <= depth * MORE_ROUNDS ? depth * MORE_ROUNDS : FEWEST_ROUNDS;
    }

    /** Gives each of the records its parent, and counts how far it is from those that the reading began with. */
    private Map<DoomedRecords.Member, Integer> generations(
            Link link, List<List<Object>> rows, List<DoomedRecords.Member> first, DoomedRecords home) {
        List<Optional<DoomedRecords.Member>> parents =
                parentage.of(link, rows, home.byReference(home.members(), link), home);
        Map<DoomedRecords.Member, List<DoomedRecords.Member>> children = new LinkedHashMap<>();
        int width = link.child().identity().size();
        for (int i = 0; i < rows.size(); i++) {
            DoomedRecords.Member child = home.member(rows.get(i).subList(0, width));
            parents.get(i).ifPresent(parent -> {
                child.becauseOf(parent);
                children.computeIfAbsent(parent, missing -> new ArrayList<>()).add(child);
            });
        }
        Map<DoomedRecords.Member, Integer> generations = new LinkedHashMap<>();
        List<DoomedRecords.Member> generation = first;
        for (int number = 1; !generation.isEmpty(); number++) {
            List<DoomedRecords.Member> next = new ArrayList<>();
            for (DoomedRecords.Member parent : generation) {
                for (DoomedRecords.Member child : children.getOrDefault(parent, List.of())) {
                    if (generations.putIfAbsent(child, number) == null) {
                        next.add(child);
                    }
                }
            }
            generation = next;
        }
        return generations;
    }

    private List<DoomedRecords.Member> add(
            LinkCase way, List<List<Object>> rows, List<Optional<DoomedRecords.Member>> parents) {
        Link link = way.rule().link();
        int width = columnsRead(link.child()).size();
        DoomedRecords children = recordsOf(link.child());
        Set<DoomedRecords.Member> onThisWay = reached.computeIfAbsent(way, missing -> new HashSet<>());
        List<DoomedRecords.Member> found = new ArrayList<>();
        for (int i = 0; i < rows.size(); i++) {
            List<Object> row = rows.get(i);
            children.add(row.subList(0, width)).ifPresent(found::add);
            DoomedRecords.Member member =
                    children.member(row.subList(0, link.child().identity().size()));
            onThisWay.add(member);
            if (!parents.isEmpty()) {
                parents.get(i).ifPresent(member::becauseOf);
            }
        }
        return found;
    }

    /** What has to be known of the children on a link: what is known of any record, and the foreign key behind it. */
    private List<Column> columnsRead(Link link) {
        List<Column> columns = new ArrayList<>(columnsRead(link.child()));
        columns.addAll(link.childColumns());
        return columns;
    }

    private DoomedRecords start(Table table) {
        if (table.identity().isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.NO_KEY,
                    "Records of " + table.name() + " would go and other tables link to it, but it has neither a primary"
                            + " key nor a unique key without nulls.",
                    "Give " + table.name() + " a primary key.");
        }
        return new DoomedRecords(table, columnsRead(table));
    }
}
