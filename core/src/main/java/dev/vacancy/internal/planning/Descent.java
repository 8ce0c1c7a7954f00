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
    private final Map<Table, RecordsToDelete> going;
    private final Map<LinkCase, Set<RecordsToDelete.Member>> reached = new LinkedHashMap<>();
    private final Map<LinkCase, Set<RecordsToDelete.Member>> explored = new LinkedHashMap<>();
    private final Map<LinkCase, Integer> rounds = new LinkedHashMap<>();

    /**
     * Begins a descent.
     *
     * @param going the records that go, by table; children are added to them
     */
    Descent(DatabaseCatalog catalog, Lookup lookup, Map<Table, RecordsToDelete> going) {
        this.catalog = catalog;
        this.lookup = lookup;
        this.parentage = new Parentage(lookup);
        this.going = going;
    }

    /** The records of a table that go, none at first. */
    RecordsToDelete recordsOf(Table table) {
        return going.computeIfAbsent(table, this::start);
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

    /** Reads those children of some records that meet a condition, each of them taken along by all; returns those that go newly. */
    List<RecordsToDelete.Member> children(
            LinkCase way, Collection<RecordsToDelete.Member> parents, Condition condition) {
        Link link = way.rule().link();
        RecordsToDelete home = going.get(link.parent());
        List<List<Object>> rows = lookup.records(
                link.child(),
                columnsRead(link),
                way.among(new Condition.AllOf(List.of(home.childrenOf(parents, link), condition))));
        List<RecordsToDelete.Member> found = add(way, rows, parents);
        if (!rows.isEmpty()) {
            home.takeAlong(recordsOf(link.child()), rows, link);
        }
        return found;
    }

    /** Reads the children of some records over a cascading clause; returns those that go newly. */
    List<RecordsToDelete.Member> children(LinkCase way, Collection<RecordsToDelete.Member> parents) {
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
    Optional<List<RecordsToDelete.Member>> childrenUpTo(
            long most, LinkCase way, Collection<RecordsToDelete.Member> parents, KeyDigest digest) {
        Link link = way.rule().link();
        RecordsToDelete home = going.get(link.parent());
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
    List<RecordsToDelete.Member> childrenOfUnread(LinkCase way, Condition children) {
        Link link = way.rule().link();
        List<List<Object>> rows = lookup.records(link.child(), columnsRead(link), way.among(children));
        return rows.isEmpty() ? List.of() : add(way, rows, List.<Optional<RecordsToDelete.Member>>of());
    }

    private List<RecordsToDelete.Member> readNextGeneration(LinkCase way, Collection<RecordsToDelete.Member> parents) {
        Link link = way.rule().link();
        RecordsToDelete home = going.get(link.parent());
        return add(
                way,
                lookup.records(link.child(), columnsRead(link), way.among(home.childrenOf(parents, link))),
                parents);
    }

    private List<RecordsToDelete.Member> add(
            LinkCase way, List<List<Object>> rows, Collection<RecordsToDelete.Member> parents) {
        Link link = way.rule().link();
        RecordsToDelete home = going.get(link.parent());
        return rows.isEmpty()
                ? List.of()
                : add(way, rows, parentage.of(link, rows, home.byReference(parents, link), home));
    }

    /**
     * Reads the generations below some records of one table at once, as many as the database goes down in one query. For
     * a run they are read again to be locked, and once more for what was added meanwhile.
     */
    private List<RecordsToDelete.Member> readDescendants(LinkCase way, Collection<RecordsToDelete.Member> parents) {
        Link link = way.rule().link();
        RecordsToDelete home = going.get(link.parent());
        Set<RecordsToDelete.Member> known = explored.computeIfAbsent(way, missing -> new HashSet<>());
        List<RecordsToDelete.Member> open =
                parents.stream().filter(member -> !known.contains(member)).toList();
        if (open.isEmpty()) {
            return List.of();
        }
        OptionalInt depth = depth(way);
        List<List<Object>> rows =
                lookup.descendants(link, columnsRead(link), way.among(home.childrenOf(open, link)), way.only(), depth);
        known.addAll(open);
        List<RecordsToDelete.Member> found = add(way, rows, List.<Optional<RecordsToDelete.Member>>of());
        Map<RecordsToDelete.Member, Integer> generations = generations(link, rows, open, home);
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
            lookup.records(link.child(), link.child().identity(), RecordsToDelete.condition(link.child(), found));
            List<RecordsToDelete.Member> all = new ArrayList<>(found);
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
    private Map<RecordsToDelete.Member, Integer> generations(
            Link link, List<List<Object>> rows, List<RecordsToDelete.Member> first, RecordsToDelete home) {
        List<Optional<RecordsToDelete.Member>> parents =
                parentage.of(link, rows, home.byReference(home.members(), link), home);
        Map<RecordsToDelete.Member, List<RecordsToDelete.Member>> children = new LinkedHashMap<>();
        int width = link.child().identity().size();
        for (int i = 0; i < rows.size(); i++) {
            RecordsToDelete.Member child = home.member(rows.get(i).subList(0, width));
            parents.get(i).ifPresent(parent -> {
                child.becauseOf(parent);
                children.computeIfAbsent(parent, missing -> new ArrayList<>()).add(child);
            });
        }
        Map<RecordsToDelete.Member, Integer> generations = new LinkedHashMap<>();
        List<RecordsToDelete.Member> generation = first;
        for (int number = 1; !generation.isEmpty(); number++) {
            List<RecordsToDelete.Member> next = new ArrayList<>();
            for (RecordsToDelete.Member parent : generation) {
                for (RecordsToDelete.Member child : children.getOrDefault(parent, List.of())) {
                    if (generations.putIfAbsent(child, number) == null) {
                        next.add(child);
                    }
                }
            }
            generation = next;
        }
        return generations;
    }

    private List<RecordsToDelete.Member> add(
            LinkCase way, List<List<Object>> rows, List<Optional<RecordsToDelete.Member>> parents) {
        Link link = way.rule().link();
        int width = columnsRead(link.child()).size();
        RecordsToDelete children = recordsOf(link.child());
        Set<RecordsToDelete.Member> onThisWay = reached.computeIfAbsent(way, missing -> new HashSet<>());
        List<RecordsToDelete.Member> found = new ArrayList<>();
        for (int i = 0; i < rows.size(); i++) {
            List<Object> row = rows.get(i);
            children.add(row.subList(0, width)).ifPresent(found::add);
            RecordsToDelete.Member member =
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

    private RecordsToDelete start(Table table) {
        if (table.identity().isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.NO_KEY,
                    "Records of " + table.name() + " would go and other tables link to it, but it has neither a primary"
                            + " key nor a unique key without nulls.",
                    "Give " + table.name() + " a primary key.");
        }
        return new RecordsToDelete(table, columnsRead(table));
    }
}
