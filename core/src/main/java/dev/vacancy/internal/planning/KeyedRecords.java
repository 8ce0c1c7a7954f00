package dev.vacancy.internal.planning;

import dev.vacancy.FailureCode;
import dev.vacancy.InvalidRequestException;
import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.internal.catalog.CatalogLink;
import dev.vacancy.internal.catalog.RecordKey;
import dev.vacancy.internal.condition.Condition;
import dev.vacancy.internal.store.KeyDigest;
import dev.vacancy.internal.store.RecordStore;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.Deque;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** Records that are known, each by its key and by what other tables' links refer to. */
final class KeyedRecords implements RecordSet {
    private final Table table;
    private final List<Column> columns;
    private final Set<LinkCase> ways;
    private final RecordStore store;
    private final Map<Key, Member> members = new LinkedHashMap<>();
    private final Map<LinkCase, Set<Member>> reached = new LinkedHashMap<>();

    /**
     * Starts empty.
     *
     * @param columns what is known of each record: its identity first, then what links refer to
     */
    private KeyedRecords(Table table, List<Column> columns, Set<LinkCase> ways, RecordStore store) {
        this.table = table;
        this.columns = columns;
        this.ways = ways;
        this.store = store;
    }

    /** Knows none yet. */
    static KeyedRecords none(Table table, List<Column> columns, Set<LinkCase> ways, RecordStore store) {
        if (table.identity().isEmpty()) {
            throw new InvalidRequestException(
                    FailureCode.NO_KEY,
                    "Records of " + table.name() + " would go and other tables link to it, but it has neither a primary"
                            + " key nor a unique key without nulls.",
                    "Give " + table.name() + " a primary key.");
        }
        return new KeyedRecords(table, columns, ways, store);
    }

    /** A record that goes, and those whose going takes it along. Each is itself and equal to no other. */
    static final class Member {
        private static final int LONGEST_WAY = 8;

        private final KeyedRecords home;
        private final Key key;
        private final List<Object> values;
        private final List<Member> because = new ArrayList<>(1);
        private boolean root;

        private Member(KeyedRecords home, Key key, List<Object> values) {
            this.home = home;
            this.key = key;
            this.values = values;
        }

        /** Whether the record itself was selected. */
        boolean isRoot() {
            return root;
        }

        /** The records whose going takes it along, in the order in which they were found. */
        List<Member> because() {
            return because;
        }

        /** Notes a record that takes this one along. */
        void becauseOf(Member parent) {
            if (!because.contains(parent)) {
                because.add(parent);
            }
        }

        KeyedRecords home() {
            return home;
        }

        Key key() {
            return key;
        }

        /** The values of the columns that its home knows. */
        List<Object> values() {
            return values;
        }

        /** Names this record and those that led to it, the selected one first; of a long way the two ends. */
        List<String> way() {
            Deque<String> way = new ArrayDeque<>();
            Set<Member> seen = new HashSet<>();
            Member next = this;
            while (next != null && seen.add(next)) {
                way.addFirst(next.home.table.name() + " " + next.key.text());
                next = next.root || next.because.isEmpty() ? null : next.because.get(0);
            }
            List<String> whole = List.copyOf(way);
            if (whole.size() <= LONGEST_WAY) {
                return whole;
            }
            List<String> ends = new ArrayList<>(whole.subList(0, LONGEST_WAY / 2));
            ends.add("…");
            ends.addAll(whole.subList(whole.size() - LONGEST_WAY / 2, whole.size()));
            return ends;
        }
    }

    @Override
    public Table table() {
        return table;
    }

    @Override
    public Set<LinkCase> ways() {
        return ways;
    }

    @Override
    public Optional<Condition> condition() {
        return Optional.of(condition(table, members.values()));
    }

    @Override
    public Optional<RecordStore.Tally> tally() {
        KeyDigest keys = new KeyDigest();
        members.keySet().forEach(keys::add);
        return Optional.of(keys.tally());
    }

    @Override
    public Condition childrenOn(Link link) {
        return childrenOf(members.values(), link);
    }

    @Override
    public long reachedOver(LinkCase way) {
        return reached.getOrDefault(way, Set.of()).size();
    }

    @Override
    public List<List<String>> waysTo(Link link, List<List<Object>> rows) {
        return parentsOn(link, rows).stream()
                .map(parent -> parent.map(Member::way).orElse(List.of()))
                .toList();
    }

    /**
     * Finds the records that are the parents of some children on a link.
     *
     * @param rows of each child its identity first, if its table has one, and its foreign key last
     * @return for each row the parent, in order; empty if it doesn't go, or nobody knows
     */
    List<Optional<Member>> parentsOn(Link link, List<List<Object>> rows) {
        return new Parentage(store).of(link, rows, byReference(members.values(), link), this);
    }

    /** Notes that a record was reached over a clause. */
    void reach(LinkCase way, Member member) {
        reached.computeIfAbsent(way, missing -> new HashSet<>()).add(member);
    }

    Collection<Member> members() {
        return members.values();
    }

    /** Returns the record with these values of its identity, or null if it doesn't go. */
    Member member(List<Object> identity) {
        return members.get(new RecordKey(table.identity(), identity));
    }

    /** Adds a selected record. */
    void select(List<Object> values) {
        Member member = members.computeIfAbsent(key(values), key -> new Member(this, key, known(values)));
        member.root = true;
    }

    /** Adds a record that goes because of another; returns it if it is new. */
    Optional<Member> add(List<Object> values) {
        Key key = key(values);
        if (members.containsKey(key)) {
            return Optional.empty();
        }
        Member member = new Member(this, key, known(values));
        members.put(key, member);
        return Optional.of(member);
    }

    private Key key(List<Object> values) {
        return new RecordKey(
                table.identity(), values.subList(0, table.identity().size()));
    }

    private List<Object> known(List<Object> values) {
        return Collections.unmodifiableList(values.subList(0, columns.size()));
    }

    /** Picks exactly these records of a table. */
    static Condition condition(Table table, Collection<Member> members) {
        return new Condition.Among(
                table.identity(),
                members.stream().map(member -> member.key().values()).toList());
    }

    /** Picks the children on a link of the given ones among these records, the way the database's foreign key does. */
    Condition childrenOf(Collection<Member> parents, Link link) {
        return CatalogLink.of(link).comparesByValue()
                ? new Condition.Referring(link, references(parents, link))
                : new Condition.OfParent(link, condition(table, parents));
    }

    /** Over a link that is turned round, many of these may point to one. */
    private List<List<Object>> references(Collection<Member> parents, Link link) {
        Stream<List<Object>> references = parents.stream()
                .map(member -> referred(member, link))
                .filter(values -> values.stream().noneMatch(Objects::isNull));
        return CatalogLink.of(link).isMirror()
                ? references
                        .map(values -> new RecordKey(link.childColumns(), values))
                        .distinct()
                        .map(RecordKey::values)
                        .toList()
                : references.toList();
    }

    /** Maps what children on a link hold as their foreign key to the parent it means, as far as Java can tell. */
    Map<Key, Member> byReference(Collection<Member> parents, Link link) {
        Map<Key, Member> byReference = new LinkedHashMap<>();
        if (CatalogLink.of(link).comparesByValue()) {
            for (Member member : parents) {
                List<Object> values = referred(member, link);
                if (values.stream().noneMatch(Objects::isNull)) {
                    byReference.put(new RecordKey(link.childColumns(), values).comparable(), member);
                }
            }
        }
        return byReference;
    }

    /**
     * Notes of records that each of these takes them along to which they point, as far as Java can tell.
     *
     * @param children the home of those records
     * @param rows of each its identity first and what these hold of it last
     * @param link the link from them to these
     */
    void takeAlong(KeyedRecords children, List<List<Object>> rows, Link link) {
        if (!CatalogLink.of(link).comparesByValue()) {
            return;
        }
        Map<Key, List<Member>> byReference = members.values().stream()
                .filter(member -> referred(member, link).stream().noneMatch(Objects::isNull))
                .collect(Collectors.groupingBy(
                        member -> new RecordKey(link.childColumns(), referred(member, link)).comparable()));
        int width = children.table.identity().size();
        for (List<Object> row : rows) {
            List<Object> reference =
                    row.subList(row.size() - link.childColumns().size(), row.size());
            Member child = children.member(row.subList(0, width));
            byReference
                    .getOrDefault(new RecordKey(link.childColumns(), reference).comparable(), List.of())
                    .forEach(child::becauseOf);
        }
    }

    private List<Object> referred(Member member, Link link) {
        return link.parentColumns().stream()
                .map(column -> member.values().get(columns.indexOf(column)))
                .toList();
    }
}
