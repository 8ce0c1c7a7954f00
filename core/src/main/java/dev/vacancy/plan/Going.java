package dev.vacancy.plan;

import dev.vacancy.catalog.Column;
import dev.vacancy.catalog.Key;
import dev.vacancy.catalog.Link;
import dev.vacancy.catalog.Table;
import dev.vacancy.criteria.Condition;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

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

    /** A record that goes, and the one whose going takes it along. Each is itself and equal to no other. */
    static final class Member {
        private static final int LONGEST_WAY = 8;

        private final Going home;
        private final Key key;
        private final List<Object> values;
        private final Optional<Member> because;

        private Member(Going home, Key key, List<Object> values, Optional<Member> because) {
            this.home = home;
            this.key = key;
            this.values = values;
            this.because = because;
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
            for (Optional<Member> next = Optional.of(this); next.isPresent(); next = next.get().because) {
                way.addFirst(next.get().home.table.name() + " " + next.get().key.text());
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

    /** Adds a record; returns it if it is new. */
    Optional<Member> add(List<Object> values, Optional<Member> because) {
        List<Column> identity = table.identity();
        Key key = new Key(identity, values.subList(0, identity.size()));
        if (members.containsKey(key)) {
            return Optional.empty();
        }
        Member member = new Member(this, key, values.subList(0, columns.size()), because);
        members.put(key, member);
        return Optional.of(member);
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
