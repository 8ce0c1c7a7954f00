package dev.vacancy.plan;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Condition;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.Deque;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** The records of one table that go, each with its key and with what other tables' links refer to. */
final class Going {
    private final Table table;
    private final List<Column> columns;
    private final Map<Key, Member> members = new LinkedHashMap<>();

    /**
     * Starts empty.
     *
     * @param columns what is known of each record: its identity first, then what links refer to
     */
    Going(Table table, List<Column> columns) {
        this.table = table;
        this.columns = List.copyOf(columns);
    }

    /** A record that goes, and those whose going takes it along. Each is itself and equal to no other. */
    static final class Member {
        private static final int LONGEST_WAY = 8;

        private final Going home;
        private final Key key;
        private final List<Object> values;
        private final List<Member> because = new ArrayList<>(1);
        private boolean root;

        private Member(Going home, Key key, List<Object> values) {
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

        Going home() {
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

    Table table() {
        return table;
    }

    List<Column> columns() {
        return columns;
    }

    Collection<Member> members() {
        return members.values();
    }

    /** Returns the record with these values of its identity, which is there. */
    Member member(List<Object> identity) {
        return members.get(new Key(table.identity(), identity));
    }

    /** Adds a selected record. */
    void select(List<Object> values) {
        Member member = members.computeIfAbsent(key(values), key -> new Member(this, key, known(values)));
        member.root = true;
    }

    /** Adds a record that goes because of another; returns it if it is new. */
    Optional<Member> add(List<Object> values, Optional<Member> because) {
        Key key = key(values);
        Member there = members.get(key);
        Member member = there == null ? new Member(this, key, known(values)) : there;
        because.ifPresent(member.because::add);
        if (there == null) {
            members.put(key, member);
        }
        return there == null ? Optional.of(member) : Optional.empty();
    }

    private Key key(List<Object> values) {
        return new Key(table.identity(), values.subList(0, table.identity().size()));
    }

    private List<Object> known(List<Object> values) {
        return Collections.unmodifiableList(values.subList(0, columns.size()));
    }

    /** Picks exactly these records. */
    Condition condition() {
        return condition(table, members.values());
    }

    /** Picks exactly these records of a table. */
    static Condition condition(Table table, Collection<Member> members) {
        return Condition.among(
                table.identity(),
                members.stream().map(member -> member.key().values()).toList());
    }

    /** Picks the children on a link of the given ones among these records. */
    Condition childrenOf(Collection<Member> parents, Link link) {
        return new Condition.Among(
                link.childColumns(),
                parents.stream()
                        .map(member -> referred(member, link))
                        .filter(values -> !values.contains(null))
                        .toList(),
                (link.declared() ? link.parentColumns() : link.childColumns())
                        .stream().map(Column::type).toList());
    }

    /** Maps what children on a link hold as their foreign key to the parent it means. */
    Map<Key, Member> byReference(Collection<Member> parents, Link link) {
        Map<Key, Member> byReference = new LinkedHashMap<>();
        for (Member member : parents) {
            List<Object> values = referred(member, link);
            if (!values.contains(null)) {
                byReference.put(new Key(link.childColumns(), values).comparable(), member);
            }
        }
        return byReference;
    }

    private List<Object> referred(Member member, Link link) {
        List<Object> values = new ArrayList<>();
        for (int i = 0; i < link.parentColumns().size(); i++) {
            Object value =
                    member.values().get(columns.indexOf(link.parentColumns().get(i)));
            values.add(asHeldBy(link, i, value));
        }
        return values;
    }

    /** Where the database doesn't enforce a link, its two ends may be of different types. */
    private static Object asHeldBy(Link link, int position, Object value) {
        return value == null || link.declared()
                ? value
                : link.child().convert(link.childColumns().get(position), value);
    }
}
